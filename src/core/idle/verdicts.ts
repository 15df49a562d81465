import { MINUTE_S } from "../time";
import { microsOf, tryMicrosOfText } from "./micros";
import { AFTER_SESSIONS, type Condition, type IdleRule, SESSIONS_ACTIVE } from "./rule";
import type { Column, Slots } from "./slots";

/** What is to be said of a condition or a rule at a slot: there is nothing to say, it does not hold, it holds. */
export const NOTHING = 0;
export const NOT = 1;
export const HOLDS = 2;
/** There is a value, and the rule does not apply then. */
export const ELSEWHEN = 3;

/** How many samples there are up to each slot. */
export function countsOf(column: Column): Int32Array {
  if (column.upTo) return column.upTo.counts;
  const known = COUNTS.get(column) ?? count(column);
  COUNTS.set(column, known);
  return known;
}

/** A column is counted and added up once, whatever is tried on it. */
const COUNTS = new WeakMap<Column, Int32Array>();
const SUMS = new WeakMap<Column, Float64Array | readonly bigint[]>();

function count({ values }: Column): Int32Array {
  const counts = new Int32Array(values.length + 1);
  let n = 0;
  for (let i = 0; i < values.length; i++) {
    if (!Number.isNaN(values[i] as number)) n++;
    counts[i + 1] = n;
  }
  return counts;
}

/** Sums of millionths up to each slot: numbers where every one of them is exact, else bigints. */
export function sumsOf(column: Column): Float64Array | readonly bigint[] {
  if (column.upTo) return column.upTo.sums;
  const known = SUMS.get(column) ?? addUp(column);
  SUMS.set(column, known);
  return known;
}

function addUp({ values, exact, largest }: Column): Float64Array | readonly bigint[] {
  if (exact === null && largest * values.length <= Number.MAX_SAFE_INTEGER) {
    const sums = new Float64Array(values.length + 1);
    let sum = 0;
    for (let i = 0; i < values.length; i++) {
      const value = values[i] as number;
      if (!Number.isNaN(value)) sum += value;
      sums[i + 1] = sum;
    }
    return sums;
  }
  const sums: bigint[] = [0n];
  let sum = 0n;
  for (let i = 0; i < values.length; i++) {
    const value = exact ? (exact[i] ?? 0n) : Number.isNaN(values[i]) ? 0n : BigInt(values[i] as number);
    sum += value;
    sums.push(sum);
  }
  return sums;
}

/** Sample by sample whether it meets a threshold by itself: `NOTHING` where it is missing. */
export function metBy(column: Column, { op, threshold }: Pick<Condition, "op" | "threshold">): Uint8Array {
  const { values, exact } = column;
  const met = new Uint8Array(values.length);
  if (exact) {
    const limit = exactMicros(threshold);
    for (let i = 0; i < met.length; i++) {
      const value = exact[i] ?? null;
      if (value !== null) met[i] = compare(op, value < limit ? -1 : value > limit ? 1 : 0) ? HOLDS : NOT;
    }
    return met;
  }
  const limit = microsOf(threshold);
  const [isBelow, takesEqual] = [op[0] === "<", op.length === 2];
  // One comparison for all four, without a branch: what is missing compares as false both ways.
  const sign = isBelow ? 1 : -1;
  const bound = takesEqual ? 1 : 0;
  for (let i = 0; i < met.length; i++) {
    const above = ((values[i] as number) - limit) * sign;
    met[i] = above < bound ? HOLDS : above >= bound ? NOT : NOTHING;
  }
  return met;
}

function compare(op: Condition["op"], sign: number): boolean {
  if (sign === 0) return op.length === 2;
  return sign < 0 === (op[0] === "<");
}

function exactMicros(value: number): bigint {
  const micros = tryMicrosOfText(String(value));
  if (micros === null) throw new RangeError(`${value} is no finite number`);
  return micros;
}

/** How many samples of `met` met their threshold up to each slot. */
function metCounts(met: Uint8Array): Int32Array {
  const counts = new Int32Array(met.length + 1);
  let n = 0;
  for (let i = 0; i < met.length; i++) {
    n += (met[i] as number) >> 1;
    counts[i + 1] = n;
  }
  return counts;
}

export type Windowing = Readonly<{
  stepS: number;
  coverage: number;
  counts: Int32Array;
  sums: Float64Array | readonly bigint[] | null;
}>;

/** How many slots a window of minutes has. */
export function slotsIn(windowMinutes: number, stepS: number): number {
  return Math.round((windowMinutes * MINUTE_S) / stepS);
}

/**
 * Slot by slot whether a condition holds over the window that ends there, counted as if nothing started in it: a
 * window that reaches before the first slot, or lacks coverage, does not hold. `metOf` gives its samples alone.
 */
export function overWindows(
  condition: Condition,
  metOf: () => Uint8Array,
  { stepS, coverage, counts, sums }: Windowing,
): Uint8Array {
  const width = slotsIn(condition.window, stepS);
  const need = Math.max(1, leastSamples(coverage, width));
  const isBelow = condition.op[0] === "<";
  const holds = new Uint8Array(counts.length - 1);
  if (condition.statistic === "mean")
    return overMeans(holds, condition, { width, need, counts, sums: sums as NonNullable<typeof sums> });
  const metUp = metCounts(metOf());
  const isMax = condition.statistic === "max";
  for (let i = width - 1; i < holds.length; i++) {
    const n = (counts[i + 1] as number) - (counts[i + 1 - width] as number);
    if (n < need) continue;
    const k = (metUp[i + 1] as number) - (metUp[i + 1 - width] as number);
    holds[i] = k >= enough(n, isMax, isBelow) ? 1 : 0;
  }
  return holds;
}

/** Of how many of n samples it must be true that they meet a threshold, for the highest or the 95th percentile (nearest rank) to meet it. */
export function enough(n: number, isMax: boolean, isBelow: boolean): number {
  const rank = isMax ? n : Math.ceil((19 * n) / 20);
  return isBelow ? rank : n - rank + 1;
}

/** The fewest samples of a window that cover it: present >= coverage x slots, not rounded. */
export function leastSamples(coverage: number, slots: number): number {
  const wanted = coverage * slots;
  const near = Math.round(wanted);
  // 0.9 x 10 is 9, whatever a binary fraction makes of it.
  return Math.abs(wanted - near) < 1e-9 * Math.max(1, slots) ? near : Math.ceil(wanted);
}

type Means = Readonly<{ width: number; need: number; counts: Int32Array; sums: Float64Array | readonly bigint[] }>;

function overMeans(holds: Uint8Array, { op, threshold }: Condition, { width, need, counts, sums }: Means): Uint8Array {
  const limit = microsOf(threshold);
  if (!(sums instanceof Float64Array) || !(Math.abs(limit) * width <= Number.MAX_SAFE_INTEGER)) {
    const exact = exactMicros(threshold);
    for (let i = width - 1; i < holds.length; i++) {
      const n = (counts[i + 1] as number) - (counts[i + 1 - width] as number);
      if (n < need) continue;
      const above = BigInt(sums[i + 1] as number | bigint) - BigInt(sums[i + 1 - width] as number | bigint) - exact * BigInt(n);
      holds[i] = compare(op, above < 0n ? -1 : above > 0n ? 1 : 0) ? 1 : 0;
    }
    return holds;
  }
  // One form for the four comparisons, so that the loop has one: above x sign < bound.
  const sign = op[0] === "<" ? 1 : -1;
  const bound = op.length === 2 ? 1 : 0;
  for (let i = width - 1; i < holds.length; i++) {
    const n = (counts[i + 1] as number) - (counts[i + 1 - width] as number);
    const above = (sums[i + 1] as number) - (sums[i + 1 - width] as number) - limit * n;
    holds[i] = above * sign < bound && n >= need ? 1 : 0;
  }
  return holds;
}

/** Slot by slot whether a sample there fails the rule by itself, `NOT`: somebody is there. */
export function failing({ match }: Pick<IdleRule, "match">, bySample: readonly Uint8Array[]): Uint8Array {
  const [only] = bySample;
  if (bySample.length === 1 && only) return only;
  const fails = new Uint8Array(only?.length ?? 0);
  const isAll = match === "all";
  for (let i = 0; i < fails.length; i++) {
    let [met, not] = [0, 0];
    for (const one of bySample) {
      if (one[i] === HOLDS) met++;
      else if (one[i] === NOT) not++;
    }
    fails[i] = isAll ? (not > 0 ? 1 : 0) : met === 0 && not > 0 ? 1 : 0;
  }
  return fails;
}

/** What a sample says by itself for the onset: of sessions that ended, only one that is active says that somebody is there. */
export function saidBySample(condition: Condition, met: Uint8Array, { columns }: Slots): Uint8Array {
  const active = columns.get(SESSIONS_ACTIVE);
  if (!AFTER_SESSIONS.includes(condition.metric) || !active) return met;
  const said = new Uint8Array(met.length);
  for (let i = 0; i < said.length; i++) {
    if (met[i] !== NOTHING) said[i] = (active.values[i] as number) > 0 ? NOT : HOLDS;
  }
  return said;
}
