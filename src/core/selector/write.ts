import { KEYWORDS } from "./token";

const BARE = /^[\p{L}\p{N}_./-]+$/u;

/** A clause that asks for one value of one key, or for resources that lack it where the value is null. */
export function clauseText(key: string, value: string | null): string {
  return value === null ? `not has ${wordText(key)}` : `${wordText(key)} = ${wordText(value)}`;
}

/** A key or a value as a selector says it, in quotes where it needs them. */
function wordText(text: string): string {
  return BARE.test(text) && !KEYWORDS.has(text) ? text : `"${text.replace(/["\\]/g, (one) => `\\${one}`)}"`;
}
