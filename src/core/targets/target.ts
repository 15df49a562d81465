import type { Instant } from "../time";

/** What may say how many of a group or a pool should be. */
export type TargetSource = "hours";

/** A stretch of what a source says: never fewer than `floor`, `wanted`, never more than `ceiling`. Null: it sets no bound, or leaves how many there are. */
export type TargetSpan = Readonly<{
  from: Instant;
  to: Instant;
  floor: number | null;
  wanted: number | null;
  ceiling: number | null;
}>;

/** How many of a group or pool should be, over time: ready machines and mixes take it, and do not ask where it came from. */
export type Target = Readonly<{
  source: TargetSource;
  /** The zone whose days and weeks it goes by. */
  zone: string;
  /** What it says over `[from, to)`, as stretches that tile it. */
  over: (window: Readonly<{ from: Instant; to: Instant }>) => readonly TargetSpan[];
  /** The first instant after `t` at which it says something else; null where it never does. */
  changeAfter: (t: Instant) => Instant | null;
}>;

/** How many a stretch comes to: wanted, within its bounds, of which the ceiling wins; null where it leaves them. */
export function unitsOf({ floor, wanted, ceiling }: Pick<TargetSpan, "floor" | "wanted" | "ceiling">): number | null {
  if (wanted === null) return null;
  return Math.min(Math.max(wanted, floor ?? wanted), ceiling ?? Number.POSITIVE_INFINITY);
}

/** How many there should be at an instant; null where the source leaves them. */
export function unitsAt(target: Target, t: Instant): number | null {
  const [span] = target.over({ from: t, to: t + 1 });
  return span ? unitsOf(span) : null;
}

/** How many there should be, slot by slot, by what counts at each slot's end; NaN where the source leaves them. */
export function unitsBySlot(
  target: Target,
  { from, stepS, count }: Readonly<{ from: Instant; stepS: number; count: number }>,
): Float64Array {
  const units = new Float64Array(count).fill(Number.NaN);
  for (const span of target.over({ from, to: from + count * stepS })) {
    const own = unitsOf(span);
    if (own === null) continue;
    const first = Math.max(0, Math.ceil((span.from - from) / stepS) - 1);
    for (let i = first; i < count && from + (i + 1) * stepS < span.to; i++) units[i] = own;
  }
  return units;
}
