/** What is measured of every trial. */
export const MEASURES = [
  "cost",
  "saving",
  "evictions",
  "missingUnitHours",
  "fallbackHours",
  "longestShortfallHours",
  "refillMinutes",
  "atLeastFloor",
] as const;
export type Measure = (typeof MEASURES)[number];

/** Trials from `first` on, one number each per measure; NaN: the trial has none. */
export type Outcomes = Readonly<{ first: number; count: number } & Record<Measure, Float64Array>>;

export function emptyOutcomes(first: number, count: number): Outcomes {
  const values = Object.fromEntries(MEASURES.map((measure) => [measure, new Float64Array(count)]));
  return { first, count, ...(values as Record<Measure, Float64Array>) };
}

/** Stretches of trials as one, in the order of trials: the same whoever ran which. */
export function joinOutcomes(parts: readonly Outcomes[]): Outcomes {
  const inOrder = [...parts].sort((a, b) => a.first - b.first);
  const first = inOrder[0]?.first ?? 0;
  const joined = emptyOutcomes(
    first,
    inOrder.reduce((sum, { count }) => sum + count, 0),
  );
  let at = 0;
  for (const part of inOrder) {
    if (part.first !== first + at) throw new RangeError(`trials from ${first + at} on are missing`);
    for (const measure of MEASURES) joined[measure].set(part[measure], at);
    at += part.count;
  }
  return joined;
}

/** Mean over trials, and the 5th, 50th and 95th percentile by nearest rank. */
export type Figure = Readonly<{ mean: number; p5: number; p50: number; p95: number }>;

/** Over the trials that have a value; null where none has. */
export function figureOf(values: Float64Array): Figure | null {
  const sorted = values.filter((value) => !Number.isNaN(value)).sort();
  if (sorted.length === 0) return null;
  return {
    mean: meanOf(values),
    p5: atRank(sorted, 5),
    p50: atRank(sorted, 50),
    p95: atRank(sorted, 95),
  };
}

function atRank(sorted: Float64Array, percent: number): number {
  return sorted[Math.ceil((sorted.length * percent) / 100) - 1] as number;
}

/** The mean of those that have a value, added up in order with what rounding loses (Neumaier). */
export function meanOf(values: Float64Array): number {
  let sum = 0;
  let lost = 0;
  let count = 0;
  for (const value of values) {
    if (Number.isNaN(value)) continue;
    const next = sum + value;
    lost += Math.abs(sum) >= Math.abs(value) ? sum - next + value : value - next + sum;
    sum = next;
    count++;
  }
  return (sum + lost) / count;
}
