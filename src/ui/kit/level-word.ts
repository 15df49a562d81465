/** A level in words: null is left as it is. */
export function levelWord(level: number | null): string {
  if (level === null) return "left as it is";
  return level === 0 ? "off" : level === 1 ? "on" : `level ${level}`;
}
