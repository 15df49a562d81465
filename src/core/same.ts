/** True where two values say the same as JSON, whatever the order of their keys; what is not there says as much as null. */
export function isSameJson(a: unknown, b: unknown): boolean {
  return canonical(a) === canonical(b);
}

function canonical(value: unknown): string {
  return JSON.stringify(value ?? null, (_, inner: unknown) =>
    typeof inner === "object" && inner !== null && !Array.isArray(inner)
      ? Object.fromEntries(Object.entries(inner).sort(([x], [y]) => (x < y ? -1 : 1)))
      : inner,
  );
}
