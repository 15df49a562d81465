/** The size and zone that a pool of a mix is of; null where its name does not say. */
export function poolPlace(name: string): Readonly<{ size: string; zone: string }> | null {
  const [size, zone, ...rest] = name.split(" ");
  return size && zone && rest.length === 0 ? { size, zone } : null;
}
