/** Text that a database keeps and a page shows: no NUL, no half of a pair of surrogates. */
export function isPlain(text: string): boolean {
  return !text.includes("\0") && text.isWellFormed();
}
