import type { Instant } from "../time";

/** A run of a resource that a commitment may cover; `level` counts units. */
export type CoveredRun = Readonly<{ id: string; from: Instant; to: Instant; level: number }>;

/**
 * Shares a cover of `units` among runs: at every instant each has its part, by its level, of
 * `min(units, u(t))` (docs/model.md, Money: commitments). Returns whole unit-seconds by id for each
 * run in the order given; together they are the exact integral.
 */
export function coverRuns(runs: readonly CoveredRun[], units: number): readonly number[] {
  const edges = [...new Set(runs.flatMap(({ from, to }) => [from, to]))].sort((a, b) => a - b);
  const starts = runs.map((_, i) => i).sort((a, b) => (runs[a] as CoveredRun).from - (runs[b] as CoveredRun).from);
  const shares = new Float64Array(runs.length);
  let whole = 0;
  let active: number[] = [];
  let next = 0;
  edges.forEach((at, e) => {
    const end = edges[e + 1];
    if (end === undefined) return;
    active = active.filter((i) => (runs[i] as CoveredRun).to > at);
    while (next < starts.length && (runs[starts[next] as number] as CoveredRun).from <= at) active.push(starts[next++] as number);
    const wanted = active.reduce((sum, i) => sum + (runs[i] as CoveredRun).level, 0);
    if (wanted === 0) return;
    const covered = Math.min(units, wanted);
    whole += covered * (end - at);
    for (const i of active) shares[i] = (shares[i] ?? 0) + ((runs[i] as CoveredRun).level * covered * (end - at)) / wanted;
  });
  return wholeShares(shares, whole);
}

/** Whole numbers near the shares that add up to `whole`; the largest remainders are rounded up. */
function wholeShares(shares: Float64Array, whole: number): number[] {
  const result = Array.from(shares, Math.floor);
  const missing = whole - result.reduce((sum, share) => sum + share, 0);
  const order = result.map((_, i) => i).sort((a, b) => rest(shares, b) - rest(shares, a) || a - b);
  for (const i of order.slice(0, missing)) result[i] = (result[i] as number) + 1;
  return result;
}

function rest(shares: Float64Array, i: number): number {
  const share = shares[i] as number;
  return share - Math.floor(share);
}
