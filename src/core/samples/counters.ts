import type { Point } from "./points";

/** What a series that counts on had come to when it was last told of. Instants in seconds. */
export type Counter = Readonly<{ from: number | null; at: number; value: number; count: number }>;

/** What one point adds: a value for its slot, or nothing yet. `amount` and `seconds` are what it counted and over how long, for sums that count up. */
export type Read = Readonly<{ value: number; amount: number; seconds: number }>;

/** A first count is used where it began no longer ago than so many steps. */
const FIRST_STEPS = 2;

/**
 * Reads one point of a series that counts on, after what it was before. A sum that counts up is read as its rate a second;
 * one that goes up and down as it stands; a histogram as its mean. One that began anew since counts from nothing.
 * `read` is null where nothing can be said yet, and for what was told of before.
 */
export function readCounter(
  { value, from, at }: Point,
  before: Counter | null,
  stepS: number,
): Readonly<{ read: Read | null; after: Counter | null }> {
  if (value.kind === "gauge") return { read: { value: value.value, amount: value.value, seconds: 1 }, after: null };
  if (before && at <= before.at) return { read: null, after: before };
  const [now, count] = value.kind === "sum" ? [value.value, 0] : [value.sum, value.count];
  if (value.kind === "sum" && !value.isMonotonic) {
    const level = value.isDelta ? (before?.value ?? 0) + now : now;
    return { read: { value: level, amount: level, seconds: 1 }, after: { from, at, value: level, count } };
  }
  const after: Counter = { from, at, value: now, count };
  const since = value.isDelta
    ? { value: 0, count: 0, at: from ?? before?.at ?? at - stepS }
    : sinceOf({ from, at, now, count }, before, stepS);
  if (since === null) return { read: null, after };
  const amount = now - since.value;
  const seconds = at - since.at;
  if (value.kind === "sum") return { read: seconds > 0 ? { value: amount / seconds, amount, seconds } : null, after };
  const counted = count - since.count;
  return { read: counted > 0 ? { value: amount / counted, amount, seconds } : null, after };
}

type Going = Readonly<{ from: number | null; at: number; now: number; count: number }>;

/** From where a cumulative count is read: what it was before, or nothing where it began anew; null where neither is known. */
function sinceOf(
  { from, at, now, count }: Going,
  before: Counter | null,
  stepS: number,
): { value: number; count: number; at: number } | null {
  if (before) {
    const isAnew = now < before.value || count < before.count || (from !== null && from >= before.at);
    // Between the last telling and the new beginning nothing is known.
    return isAnew ? { value: 0, count: 0, at: Math.max(from ?? before.at, before.at) } : before;
  }
  return from !== null && from > 0 && at - from <= FIRST_STEPS * stepS ? { value: 0, count: 0, at: from } : null;
}
