import { ON } from "@/core/hours";

/** A level in words: null is left as it is; on is the own size of whatever it is. */
export function levelWord(level: number | null): string {
  if (level === null) return "left as it is";
  return level === 0 ? "off" : level === 1 || level === ON ? "on" : `level ${level}`;
}
