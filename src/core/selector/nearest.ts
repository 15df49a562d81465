/** The number of single-character insertions, deletions and replacements between two texts. */
export function editDistance(a: string, b: string): number {
  const row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    let diagonal = row[0] as number;
    row[0] = i;
    for (let j = 1; j <= b.length; j++) {
      const above = row[j] as number;
      const cost = a[i - 1] === b[j - 1] ? 0 : 1;
      row[j] = Math.min(above + 1, (row[j - 1] as number) + 1, diagonal + cost);
      diagonal = above;
    }
  }
  return row[b.length] as number;
}

/** True for a likely typing mistake: edit distance 1 or 2, or differing only in case. */
export function isNearMiss(typed: string, known: string): boolean {
  if (typed === known) return false;
  return typed.toLowerCase() === known.toLowerCase() || editDistance(typed, known) <= 2;
}

/**
 * The known text nearest to `typed` with its count; null where nothing is known. Case alone counts
 * as nearest, then edit distance; among equals the more frequent, then the alphabetically first.
 */
export function nearest(typed: string, known: ReadonlyMap<string, number>): { name: string; count: number } | null {
  let best: { name: string; count: number; distance: number } | null = null;
  for (const [name, count] of known) {
    const distance = typed.toLowerCase() === name.toLowerCase() ? 0 : editDistance(typed, name);
    const isBetter =
      !best ||
      distance < best.distance ||
      (distance === best.distance && (count > best.count || (count === best.count && name < best.name)));
    if (isBetter) best = { name, count, distance };
  }
  return best && { name: best.name, count: best.count };
}
