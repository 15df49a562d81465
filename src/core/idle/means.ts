import { microsOf } from "./micros";
import type { Condition } from "./rule";
import { HOLDS, leastSamples, NOT, NOTHING, slotsIn } from "./verdicts";

/** What a rule says slot by slot, asked where it is needed. */
export type Verdicts = Readonly<{
  at: (slot: number) => number;
  /** The first slot from one on at which it holds; the number of slots where none does. */
  firstHolding: (from: number) => number;
}>;

export type Means = Readonly<{
  condition: Condition;
  stepS: number;
  coverage: number;
  counts: Int32Array;
  sums: Float64Array;
}>;

/** Slots that are passed over together where none of them can hold. */
const BLOCK = 64;

/**
 * The lowest mean (for "below"; the highest for "above") over the windows that end in each block of slots: made once for a
 * window, whatever thresholds are tried on it.
 */
export function extremesOf({ condition, stepS, coverage, counts, sums }: Means): Float64Array {
  const width = slotsIn(condition.window, stepS);
  const need = Math.max(1, leastSamples(coverage, width));
  const sign = condition.op[0] === "<" ? 1 : -1;
  const count = counts.length - 1;
  const extremes = new Float64Array(Math.ceil(count / BLOCK)).fill(Number.POSITIVE_INFINITY);
  for (let i = width - 1; i < count; i++) {
    const n = (counts[i + 1] as number) - (counts[i + 1 - width] as number);
    if (n < need) continue;
    const mean = (sign * ((sums[i + 1] as number) - (sums[i + 1 - width] as number))) / n;
    const block = (i / BLOCK) | 0;
    if (mean < (extremes[block] as number)) extremes[block] = mean;
  }
  return extremes;
}

/** A rule of one condition on a mean that always applies; without a copy of anything, and passing over what cannot hold. */
export function meanVerdicts({ condition, stepS, coverage, counts, sums }: Means, extremes: Float64Array | null): Verdicts {
  const width = slotsIn(condition.window, stepS);
  const need = Math.max(1, leastSamples(coverage, width));
  const limit = microsOf(condition.threshold);
  const sign = condition.op[0] === "<" ? 1 : -1;
  const bound = condition.op.length === 2 ? 1 : 0;
  const count = counts.length - 1;
  // A millionth more than the threshold cannot be a matter of rounding.
  const out = sign * limit + 1;
  const holdsAt = (i: number): boolean => {
    if (i < width - 1) return false;
    const n = (counts[i + 1] as number) - (counts[i + 1 - width] as number);
    return n >= need && ((sums[i + 1] as number) - (sums[i + 1 - width] as number) - limit * n) * sign < bound;
  };
  return {
    at: (slot) => ((counts[slot + 1] as number) === (counts[slot] as number) ? NOTHING : holdsAt(slot) ? HOLDS : NOT),
    firstHolding(from) {
      let i = Math.max(from, width - 1);
      while (i < count) {
        if (extremes && (extremes[(i / BLOCK) | 0] as number) > out) {
          i = (((i / BLOCK) | 0) + 1) * BLOCK;
          continue;
        }
        const end = extremes ? Math.min(count, (((i / BLOCK) | 0) + 1) * BLOCK) : count;
        for (; i < end; i++) if (counts[i + 1] !== counts[i] && holdsAt(i)) return i;
      }
      return count;
    },
  };
}

/** The sample of each block of slots that is furthest from meeting a threshold, whatever the threshold: minus infinity where a block has none. */
export function furthestOf(values: Float64Array, { op }: Pick<Condition, "op">): Float64Array {
  const sign = op[0] === "<" ? 1 : -1;
  const count = values.length;
  const furthest = new Float64Array(Math.ceil(count / BLOCK)).fill(Number.NEGATIVE_INFINITY);
  for (let i = 0; i < count; i++) {
    const value = sign * (values[i] as number);
    const block = (i / BLOCK) | 0;
    if (value > (furthest[block] as number)) furthest[block] = value;
  }
  return furthest;
}

/**
 * The first slot from one on whose own sample does not meet a threshold; the number of slots where none is so. With
 * `furthest` blocks whose samples all meet it are passed over.
 */
export function firstUnmet(
  values: Float64Array,
  { op, threshold }: Pick<Condition, "op" | "threshold">,
  furthest: Float64Array | null,
): (from: number) => number {
  const limit = microsOf(threshold);
  const sign = op[0] === "<" ? 1 : -1;
  const bound = op.length === 2 ? 1 : 0;
  const firstIn = (from: number, to: number): number => {
    let i = from;
    while (i < to && !(((values[i] as number) - limit) * sign >= bound)) i++;
    return i;
  };
  if (furthest === null) return (from) => firstIn(from, values.length);
  return (from) => {
    const count = values.length;
    let i = from;
    while (i < count) {
      const block = (i / BLOCK) | 0;
      const end = Math.min(count, (block + 1) * BLOCK);
      if ((furthest[block] as number) - sign * limit >= bound) {
        const found = firstIn(i, end);
        if (found < end) return found;
      }
      i = end;
    }
    return count;
  };
}

/** Verdicts that are there already, slot by slot. */
export function verdictsIn(list: Uint8Array): Verdicts {
  return { at: (slot) => list[slot] as number, firstHolding: (from) => firstOf(list, HOLDS, from) };
}

/** The first place of a value from one on; the length where there is none. */
export function firstOf(list: Uint8Array, value: number, from: number): number {
  const at = from < list.length ? list.indexOf(value, from) : -1;
  return at < 0 ? list.length : at;
}
