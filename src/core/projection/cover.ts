import {
  type Amount,
  type AmountPerSecond,
  type Commitment,
  type Coverable,
  coverAt,
  coveredByAny,
  divideHalfEven,
  NO_AMOUNT,
  WHOLE_SHARE,
} from "../pricing";
import { DAY_S, HOUR_S, WEEK_HOURS, weekdayIndex } from "../time";
import { type BasisDays, type Line, type Run, WEEK, type Window } from "./line";
import type { Month } from "./months";

const DAY_HOURS = 24;

/**
 * What of commitments is left for the lines of a projection (docs/model.md, Money: projection), in stretches in which the same
 * ones count.
 */
export type SpareCover = Readonly<{ days: BasisDays; stretches: readonly SpareStretch[] }>;

/**
 * The commitments that count over `[from, to)`, and what is left of them hour by hour of the basis days: units times seconds that
 * nobody else uses. One row for each basis day, 24 hours each, one number for each commitment.
 */
export type SpareStretch = Window &
  Readonly<{ commitments: readonly Commitment[]; unitSeconds: readonly (readonly (readonly number[])[])[] }>;

/** Units of one price that run together, hour by hour: on dates ahead, or as on the basis days; less what is off by hour of the week. */
type Bucket = Readonly<{
  one: Coverable;
  perLevel: AmountPerSecond;
  ahead: Float64Array;
  ran: Float64Array;
  less: Float64Array;
}>;

/**
 * What of a line runs: hours ahead known by date, and hours as they ran on the basis days (where hours say leave). `lessS`: unit-seconds
 * that levers take off in each UTC hour of the week; below 0 what they bring.
 */
export type CoverableUse = Readonly<{
  line: Line;
  ahead: readonly Run[];
  ran: readonly Run[];
  lessS?: readonly number[] | undefined;
}>;

/** What commitments pay of some uses in each month: averaged over the basis days of the same weekday. */
export function coverOfMonths(
  uses: readonly CoverableUse[],
  { spare, months }: Readonly<{ spare: SpareCover | null; months: readonly Month[] }>,
): readonly Amount[] {
  const all = spare?.stretches.flatMap(({ commitments }) => commitments) ?? [];
  const coverable = uses.filter(({ line }) => coveredByAny(all, line.one));
  if (!spare || coverable.length === 0 || spare.days.length === 0) return months.map(() => NO_AMOUNT);
  const start = Math.floor((months[0]?.from ?? 0) / HOUR_S) * HOUR_S;
  const hours = Math.ceil(((months.at(-1)?.to ?? 0) - start) / HOUR_S);
  const buckets = bucketsOf(coverable, { spare, start, hours });
  const byHour = hourReader(buckets, spare);
  const sums = months.map(() => 0n);
  months.forEach(({ from, to }, m) => {
    for (let at = Math.floor(from / HOUR_S) * HOUR_S; at < to; at += HOUR_S)
      sums[m] = (sums[m] as bigint) + byHour(at, (at - start) / HOUR_S);
  });
  return sums as Amount[];
}

function bucketsOf(
  uses: readonly CoverableUse[],
  { spare, start, hours }: { spare: SpareCover; start: number; hours: number },
): readonly Bucket[] {
  const buckets = new Map<string, Bucket>();
  const place = new Map(spare.days.map((day, i) => [day, i]));
  const alike = new Map<Bucket, Map<readonly Run[], number>>();
  for (const { line, ahead, ran, lessS } of uses) {
    const { fields, kind } = line.one;
    const key = `${kind} ${fields.provider} ${fields.account} ${fields.region} ${fields.size} ${line.card.perLevel}`;
    const bucket: Bucket = buckets.get(key) ?? {
      one: line.one,
      perLevel: line.card.perLevel,
      ahead: new Float64Array(hours),
      ran: new Float64Array(spare.days.length * DAY_HOURS),
      less: new Float64Array(WEEK_HOURS),
    };
    buckets.set(key, bucket);
    countOne(alike, bucket, ahead);
    lessS?.forEach((seconds, hour) => {
      bucket.less[hour] = (bucket.less[hour] as number) + seconds;
    });
    addUnitSeconds(ran, (at) => hourPlace(at, place), { into: bucket.ran });
  }
  for (const [{ ahead: into }, byRuns] of alike) {
    for (const [runs, times] of byRuns) addUnitSeconds(runs, (at) => (at - start) / HOUR_S, { into, times });
  }
  return [...buckets.values()];
}

/** Lines that follow the same hours share their runs ahead: they are laid out once. In place. */
function countOne(alike: Map<Bucket, Map<readonly Run[], number>>, bucket: Bucket, runs: readonly Run[]): void {
  const own = alike.get(bucket) ?? new Map<readonly Run[], number>();
  alike.set(bucket, own);
  own.set(runs, (own.get(runs) ?? 0) + 1);
}

function hourPlace(at: number, place: ReadonlyMap<number, number>): number {
  const day = Math.floor(at / DAY_S);
  const row = place.get(day);
  return row === undefined ? -1 : row * DAY_HOURS + (at - day * DAY_S) / HOUR_S;
}

/** Adds level times seconds of the runs, so many times, to the hours they lie in. In place. */
export function addUnitSeconds(
  runs: readonly Run[],
  placeOf: (hour: number) => number,
  { into, times = 1 }: Readonly<{ into: Float64Array; times?: number }>,
): void {
  for (const { from, to, level } of runs) {
    for (let hour = Math.floor(from / HOUR_S) * HOUR_S; hour < to; hour += HOUR_S) {
      const i = placeOf(hour);
      if (i < 0 || i >= into.length) continue;
      into[i] = (into[i] as number) + (Math.min(to, hour + HOUR_S) - Math.max(from, hour)) * level * times;
    }
  }
}

/** What is paid of an hour ahead. Hours of a week with the same units have the same answer: it is worked out once. */
function hourReader(buckets: readonly Bucket[], spare: SpareCover): (at: number, i: number) => bigint {
  const rows: number[][] = Array.from({ length: WEEK }, () => []);
  spare.days.forEach((day, i) => {
    (rows[weekdayIndex(day)] as number[]).push(i);
  });
  const all = spare.days.map((_, i) => i);
  const known = new Map<string, bigint>();
  let stretch = 0;
  return (at, i) => {
    // Hours are asked for in order.
    while (stretch < spare.stretches.length && (spare.stretches[stretch] as SpareStretch).to <= at) stretch++;
    const counting = spare.stretches[stretch];
    if (!counting || counting.from > at) return 0n;
    const day = Math.floor(at / DAY_S);
    const hour = (at - day * DAY_S) / HOUR_S;
    const weekday = weekdayIndex(day);
    let key = `${stretch} ${weekday} ${hour}`;
    for (const { ahead } of buckets) key += ` ${ahead[i]}`;
    const answer = known.get(key);
    if (answer !== undefined) return answer;
    const own = (rows[weekday] as number[]).length > 0 ? (rows[weekday] as number[]) : all;
    let sum = 0n;
    for (const row of own) sum += paidIn(buckets, { counting, row, hour, i, hourOfWeek: weekday * DAY_HOURS + hour });
    const mean = divideHalfEven(sum, BigInt(own.length));
    known.set(key, mean);
    return mean;
  };
}

type Asked = Readonly<{ counting: SpareStretch; row: number; hour: number; i: number; hourOfWeek: number }>;

function paidIn(buckets: readonly Bucket[], { counting, row, hour, i, hourOfWeek }: Asked): bigint {
  const left = counting.unitSeconds[row]?.[hour] ?? [];
  // An hour's units are counted in seconds, so that they are whole.
  const commitments = counting.commitments.map((one, c) => ({ ...one, units: Math.round(left[c] ?? 0) }));
  const runs = buckets.map(({ one, ahead, ran, less }) => {
    const seconds = (ahead[i] as number) + (ran[row * DAY_HOURS + hour] as number) - (less[hourOfWeek] as number);
    return { one, level: Math.max(0, Math.round(seconds)) };
  });
  const { shares } = coverAt(commitments, runs);
  let sum = 0n;
  buckets.forEach(({ perLevel }, b) => {
    sum += perLevel * BigInt(runs[b]?.level ?? 0) * (shares[b] as bigint);
  });
  return divideHalfEven(sum, WHOLE_SHARE);
}
