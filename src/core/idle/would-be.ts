import { DAY_S, type Instant } from "../time";
import { AFTER_SESSIONS } from "./rule";
import { type Column, columnOf, type Slots } from "./slots";

/** A stretch in which an idle trip had a machine off. */
export type TripSpan = Readonly<{ from: Instant; to: Instant }>;

/** What was seen of it for so long before a trip is what it would have gone on with. */
const BEFORE_S = 1800;
/** A trip that nobody ended for so long says nothing of what would be any more. */
const LONGEST_S = 14 * DAY_S;

/**
 * Samples as they would be if no alarm had turned the machine off: over a trip it would have been on, and idle as it was when it
 * tripped (docs/model.md, Money: projection, evidence of an idle rule). What there are samples of stays as it is.
 */
export function withoutTrips(slots: Slots, trips: readonly TripSpan[]): Slots {
  if (trips.length === 0) return slots;
  const columns = new Map([...slots.columns].map(([metric, column]) => [metric, filled(column, { metric, slots, trips })]));
  return { ...slots, columns };
}

type Ran = Readonly<{ from: Instant; to: Instant; state: string }>;

/**
 * Trips as far as the machine would have gone on: as long as it did at the same time of a week before its first trip (four weeks of
 * them at most, one after the other), since many are turned off by their owners in the end. Where it never ran at that time, until
 * the trip ended.
 */
export function cutByHabit(
  trips: readonly TripSpan[],
  { life, first }: Readonly<{ life: readonly Ran[]; first: Instant }>,
): readonly TripSpan[] {
  const weekS = 7 * DAY_S;
  const turns = new Map<number, number>();
  return trips.map(({ from, to }) => {
    const back = Math.max(1, Math.ceil((from - first) / weekS + 1e-9));
    const ran = Array.from({ length: HABIT_WEEKS }, (_, k) => from - (back + k) * weekS).flatMap((at) => {
      const run = life.find((span) => span.state === "running" && span.from <= at && at < span.to);
      return run ? [run.to - at] : [];
    });
    // Each week of those before is taken in turn, by the day of the week.
    const day = Math.floor(from / DAY_S) % 7;
    const turn = turns.get(day) ?? 0;
    turns.set(day, turn + 1);
    const length = ran[turn % Math.max(1, ran.length)];
    return length === undefined ? { from, to } : { from, to: Math.min(to, from + length) };
  });
}

/** So many weeks before its first trip say how long a machine went on. */
export const HABIT_WEEKS = 4;

type Filling = Readonly<{ metric: string; slots: Slots; trips: readonly TripSpan[] }>;

function filled({ values, exact }: Column, { metric, slots, trips }: Filling): Column {
  const { stepS, firstEnd, count } = slots;
  const own = values.slice();
  for (const { from, to } of trips) {
    const first = Math.max(0, Math.floor((from - firstEnd) / stepS) + 1);
    const last = Math.min(count - 1, Math.floor((Math.min(to, from + LONGEST_S) - firstEnd) / stepS));
    const before = usualBefore(values, { first, slots: Math.ceil(BEFORE_S / stepS), isLast: AFTER_SESSIONS.includes(metric) });
    if (before === null) continue;
    for (let i = first; i <= last; i++) if (Number.isNaN(own[i] as number)) own[i] = before;
  }
  return columnOf(own, exact === null ? null : exact.map((value, i) => value ?? bigOf(own[i] as number)));
}

/** The mean of what was seen just before; of what counts on since somebody left, the last. Null where nothing was. */
function usualBefore(
  values: Float64Array,
  { first, slots, isLast }: Readonly<{ first: number; slots: number; isLast: boolean }>,
): number | null {
  let [sum, seen] = [0, 0];
  for (let i = first - 1; i >= Math.max(0, first - slots); i--) {
    const value = values[i] as number;
    if (Number.isNaN(value)) continue;
    if (isLast) return value;
    sum += value;
    seen++;
  }
  return seen === 0 ? null : Math.round(sum / seen);
}

function bigOf(value: number): bigint | null {
  return Number.isNaN(value) ? null : BigInt(value);
}
