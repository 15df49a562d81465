import type { Instant } from "../time";
import { microsOf } from "./micros";

/** One metric, slot by slot: millionths, NaN where a sample is missing. */
export type Column = Readonly<{
  values: Float64Array;
  /** The same exactly, where a value has more digits than a number holds; null where none has. */
  exact: readonly (bigint | null)[] | null;
  /** The largest value, whatever its sign. */
  largest: number;
}>;

/**
 * Samples in slots of `stepS` seconds that end at whole multiples of it since 1970-01-01T00:00Z. Slot i
 * ends at `firstEnd + i * stepS` and covers the step before its end.
 */
export type Slots = Readonly<{
  stepS: number;
  firstEnd: Instant;
  count: number;
  columns: ReadonlyMap<string, Column>;
}>;

/** A sample as it comes: one value of a metric. Null is a missing one. */
export type Sample = Readonly<{ at: Instant; metric: string; value: number | bigint | null }>;

/** The end of the slot that a sample at `at` belongs to: the first that ends at or after it. */
export function slotEnd(at: Instant, stepS: number): Instant {
  return Math.ceil(at / stepS) * stepS;
}

/**
 * Puts samples into slots, in whatever order they come. Of several in one slot the latest counts, of equal
 * times the last given. `bigint` values are millionths already. A metric of `metrics` without a sample is an empty column.
 * Null without a sample.
 */
export function slotsOf(
  samples: readonly Sample[],
  { stepS, metrics }: { stepS: number; metrics: readonly string[] },
): Slots | null {
  let first = Number.POSITIVE_INFINITY;
  let last = Number.NEGATIVE_INFINITY;
  for (const { at } of samples) {
    const end = slotEnd(at, stepS);
    if (end < first) first = end;
    if (end > last) last = end;
  }
  if (first > last) return null;
  const count = (last - first) / stepS + 1;
  const open = new Map(metrics.map((metric) => [metric, emptyColumn(count)]));
  for (const { at, metric, value } of samples) {
    const column = open.get(metric);
    if (!column || value === null) continue;
    const i = (slotEnd(at, stepS) - first) / stepS;
    if (at < (column.times[i] as number)) continue;
    column.times[i] = at;
    column.values[i] = typeof value === "bigint" ? Number(value) : microsOf(value);
    if (Math.abs(column.values[i] as number) > Number.MAX_SAFE_INTEGER) column.isLarge = true;
    column.exact[i] = typeof value === "bigint" ? value : null;
  }
  const columns = new Map(
    [...open].map(([metric, { values, exact, isLarge }]) => [metric, columnOf(values, isLarge ? wholeOf(values, exact) : null)]),
  );
  return { stepS, firstEnd: first, count, columns };
}

type OpenColumn = { values: Float64Array; times: Float64Array; exact: (bigint | null)[]; isLarge: boolean };

function emptyColumn(count: number): OpenColumn {
  return {
    values: new Float64Array(count).fill(Number.NaN),
    times: new Float64Array(count).fill(Number.NEGATIVE_INFINITY),
    exact: [],
    isLarge: false,
  };
}

function wholeOf(values: Float64Array, exact: readonly (bigint | null)[]): (bigint | null)[] {
  return Array.from(values, (value, i) => (Number.isNaN(value) ? null : (exact[i] ?? BigInt(value))));
}

/** A column of values that are in slots already: millionths, NaN where missing. */
export function columnOf(values: Float64Array, exact: readonly (bigint | null)[] | null = null): Column {
  let largest = 0;
  for (let i = 0; i < values.length; i++) {
    const size = Math.abs(values[i] as number);
    if (size > largest) largest = size;
  }
  return { values, exact, largest };
}
