import type { Instant } from "../time";
import { MICROS, microsOf } from "./micros";

/** One metric, slot by slot: millionths, NaN where a sample is missing. */
export type Column = Readonly<{
  values: Float64Array;
  /** The same exactly, where a value has more digits than a number holds; null where none has. */
  exact: readonly (bigint | null)[] | null;
  /** The largest value, whatever its sign. */
  largest: number;
  /** Counted and added up already as it was made: how many samples there are up to each slot, and their sum. */
  upTo?: Readonly<{ counts: Int32Array; sums: Float64Array }>;
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

/** Added and taken away again it leaves a number rounded to a whole one, half-even (IEEE 754, below 2^51). */
const TO_WHOLE = 6_755_399_441_055_744;

/** Memory for a column, to be used again for the next one: new memory costs more than what is done in it. */
export type ColumnBuffer = Readonly<{ values: Float64Array; counts: Int32Array; sums: Float64Array }>;

export function columnBuffer(count: number): ColumnBuffer {
  return { values: new Float64Array(count), counts: new Int32Array(count + 1), sums: new Float64Array(count + 1) };
}

/** A column of plain numbers that are in slots already; NaN where a sample is missing. It lives in `buffer` until that is used again. */
export function columnOfNumbers(
  numbers: Float32Array | Float64Array,
  buffer: ColumnBuffer = columnBuffer(numbers.length),
): Column {
  const count = numbers.length;
  const { values, counts, sums } = buffer;
  // Hot: what is imported is looked up anew each time where nothing bundles it.
  const micro = MICROS;
  for (let i = 0; i < count; i++) {
    const scaled = (numbers[i] as number) * micro;
    const whole = scaled + TO_WHOLE - TO_WHOLE;
    const rest = scaled - whole;
    values[i] = whole;
    // Near a half, or so large that a product is not exact, the slow way decides; what is missing stays so.
    if (rest > SURE || rest < -SURE || scaled > EXACT || scaled < -EXACT) values[i] = microsOf(numbers[i] as number);
  }
  let n = 0;
  let sum = 0;
  let highest = 0.5;
  let lowest = -0.5;
  for (let i = 0; i < count; i++) {
    const value = values[i] as number;
    // Only what is missing is neither.
    if (value >= 0 || value < 0) {
      n++;
      sum += value;
      if (value > highest) highest = value;
      else if (value < lowest) lowest = value;
    }
    counts[i + 1] = n;
    sums[i + 1] = sum;
  }
  const largest = Math.max(highest, -lowest);
  const column = { values, exact: null, largest };
  // Beyond this a sum of numbers is not exact.
  return largest * count <= Number.MAX_SAFE_INTEGER ? { ...column, upTo: { counts, sums } } : column;
}

/** A product of less than this is off by less than a hundred-thousandth. */
const EXACT = 2 ** 36;
const SURE = 0.4999;

/** A column of values that are in slots already: millionths, NaN where missing. */
export function columnOf(values: Float64Array, exact: readonly (bigint | null)[] | null = null): Column {
  let largest = 0;
  for (let i = 0; i < values.length; i++) {
    const size = Math.abs(values[i] as number);
    if (size > largest) largest = size;
  }
  return { values, exact, largest };
}
