import type { Instant } from "../time";

/** A pool slot by slot: when the first ends, how long each is, how many were in use and on. */
export type PoolCounts = Readonly<{ firstEnd: Instant; stepS: number; inUse: readonly number[]; on: readonly number[] }>;

/** Days on which those in use came within one of all that were on: and how many days there were on which anybody came. */
export function tightDays(
  { firstEnd, stepS, inUse, on }: PoolCounts,
  dayOf: (t: Instant) => number,
): { tight: number; days: number } {
  const days = new Set<number>();
  const tight = new Set<number>();
  inUse.forEach((used, i) => {
    if (used === 0) return;
    const day = dayOf(firstEnd + (i - 1) * stepS);
    days.add(day);
    if ((on[i] ?? 0) - used <= 1) tight.add(day);
  });
  return { tight: tight.size, days: days.size };
}
