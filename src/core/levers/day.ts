import { AMOUNT_PER_UNIT, type Amount } from "../pricing";
import type { LeverKind, Percentile } from "../projection";
import type { GapCause } from "../realised";
import { LEVERS } from "./levers";

/** What a day tells apart: levers, and what ready machines cost, which a projection has among the hours. */
export type DayLever = LeverKind | "ready";

/** What a lever of a fleet was worth on a day, beside what was foretold; null: it was not. Exact amounts. */
export type LeverDay = Readonly<{ lever: DayLever; saved: Amount; forecast: Percentile | null }>;

/** What has a cause of its own in a day, and which. */
type OfDay = Readonly<{ kind: DayLever; cause: GapCause | null }>;
const READY: OfDay = { kind: "ready", cause: "ready machines" };
const OF_DAYS: readonly OfDay[] = LEVERS.flatMap((lever): OfDay[] => (lever.kind === "hours" ? [lever, READY] : [lever]));

export type SavedInput = Readonly<{
  pulled: readonly DayLever[];
  /** What everything together saved. */
  saved: bigint;
  /** By cause, what was paid more than hours alone make it. */
  gap: Readonly<Record<GapCause, bigint>>;
  forecasts: Readonly<Partial<Record<DayLever, Percentile | null>>>;
}>;

/**
 * What was saved, by lever: what a cause of its own tells, and to the one without a cause what is left. Where only one is
 * pulled all of it is its. The rows add up to `saved` wherever hours are pulled, or one lever alone.
 */
export function savedByLever({ pulled, saved, gap, forecasts }: SavedInput): readonly LeverDay[] {
  const own = OF_DAYS.filter(({ kind }) => pulled.includes(kind));
  const ofCauses = own.reduce((sum, { cause }) => (cause === null ? sum : sum - gap[cause]), 0n);
  return own.map(({ kind, cause }) => {
    const told = cause === null ? saved - ofCauses : -gap[cause];
    return { lever: kind, saved: (own.length === 1 ? saved : told) as Amount, forecast: forecasts[kind] ?? null };
  });
}

/** What of a day was foretold of levers with a cause of their own, by that cause: the middle of what each was to save. */
export function promisedBy(levers: readonly LeverDay[]): ReadonlyMap<GapCause, Amount> {
  return new Map(
    OF_DAYS.flatMap(({ kind, cause }): [GapCause, Amount][] => {
      const middle = levers.find(({ lever }) => lever === kind)?.forecast?.p50;
      return cause === null || middle === undefined ? [] : [[cause, middle]];
    }),
  );
}

/** An amount from money as a number: what was simulated is exact to a billionth. */
export function amountOfMoney(money: number): Amount {
  return ((BigInt(Math.round(money * 1e6)) * AMOUNT_PER_UNIT) / 1_000_000n) as Amount;
}

/** What a day before came to, by its weekday, Monday 0. */
export type DayBefore = Readonly<{ weekday: number; saved: bigint }>;

/**
 * The spread of what a day of a weekday will save, from the days before: about the mean of that weekday by as much as days lay off the
 * mean of theirs, those of weekdays that save about as much (by half of it), and a little more, since so few say what the mean is.
 * Nearest rank. Null where no such weekday was seen.
 */
export function spreadOfDays(days: readonly DayBefore[], weekday: number): Percentile | null {
  const means = new Map<number, bigint>();
  for (let one = 0; one < 7; one++) {
    const own = days.filter((day) => day.weekday === one);
    if (own.length > 0) means.set(one, own.reduce((sum, { saved }) => sum + saved, 0n) / BigInt(own.length));
  }
  const mean = means.get(weekday);
  if (mean === undefined) return null;
  const isAlike = (other: bigint) => 2n * size(other - mean) <= size(mean);
  const alike = days.filter((day) => isAlike(means.get(day.weekday) as bigint));
  // Known no better than by as many weeks: what is to come lies off the mean that is not seen.
  const weeks = Math.max(2, Math.round(alike.length / new Set(alike.map((day) => day.weekday)).size));
  const wider = Math.sqrt((weeks + 1) / (weeks - 1));
  const off = alike.map((day) => Number(day.saved - (means.get(day.weekday) as bigint)) * wider).sort((a, b) => a - b);
  const rank = (p: number) => BigInt(Math.round(off[Math.max(0, Math.ceil((p * off.length) / 100) - 1)] as number));
  return { p5: (mean + least(rank(5), 0n)) as Amount, p50: mean as Amount, p95: (mean - least(-rank(95), 0n)) as Amount };
}

const size = (value: bigint): bigint => (value < 0n ? -value : value);
const least = (a: bigint, b: bigint): bigint => (a < b ? a : b);
