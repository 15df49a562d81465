import type { Resource } from "@/core/plan";
import type { Amount, DatedCard } from "@/core/pricing";
import { ownSizeOf } from "@/core/rounds";
import { costOver, type LifeSpan, totalOf } from "@/core/spend";
import { DAY_S, dayNumber, formatDate, type Instant } from "@/core/time";
import { type Fleet, type Lives, livesOf, type Pool } from "@/store";

export const BASIS_DAYS = 28;

/**
 * The UTC days that a fleet is compared with, as day numbers: those a person chose, else the 28 whole
 * ones before its first plan. A plan is never its own baseline: days on which one was in force are
 * left out (docs/model.md, Money: projection). Without a plan yet, the last 28 before `now`.
 */
export function basisDaysOf({ basis, firstInForceAt }: Pick<Fleet, "basis" | "firstInForceAt">, now: Instant): number[] {
  const end = Math.floor((firstInForceAt ?? now) / DAY_S);
  const first = basis ? dayNumber(basis.from) : end - BASIS_DAYS;
  const last = basis ? Math.min(dayNumber(basis.to), end - 1) : end - 1;
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => first + i);
}

/** The basis days of a day's weekday, with how everything lived on them. */
export type BasisLives = readonly Readonly<{ day: number; lives: Lives }>[];

export async function basisLives(pool: Pool, ids: readonly string[], days: readonly number[]): Promise<BasisLives> {
  const read = await Promise.all(
    days.map(async (day) => ({ day, lives: await livesOf(pool, ids, { from: day * DAY_S, to: (day + 1) * DAY_S + 1 }) })),
  );
  return read.filter(({ lives }) => [...lives.values()].some((life) => life.some(isThere)));
}

/** What one resource cost on the day as it ran before, or always on, until it ended; at the prices of the day. */
export type Baseline = Readonly<{ before: Amount | null; alwaysOn: Amount; runs: readonly (readonly LifeSpan[])[] }>;

type Input = Readonly<{
  from: Instant;
  to: Instant;
  /** The first counts for whatever began before it. */
  cards: readonly DatedCard[];
  endedAt: Instant | null;
  size: number | undefined;
  basis: BasisLives;
}>;

/** `runs` are the lives of the basis days, laid on the day; one always on where it has none. */
export function baselineOf(resource: Resource, { from, to, cards, endedAt, size, basis }: Input): Baseline {
  const until = endedAt ?? to;
  const level = ownSizeOf(resource, { size });
  const onlyOn: readonly LifeSpan[] = [{ from, to: until, state: "running", level }];
  const alwaysOn = totalOf(costOver({ life: onlyOn, cards, from, to: until, knownTo: until }));
  const shifted = basis.flatMap(({ day, lives }) => {
    const life = lives.get(resource.id)?.filter(isThere) ?? [];
    return life.length === 0 ? [] : [life.map((span) => moved(span, from - day * DAY_S))];
  });
  if (shifted.length === 0) return { before: null, alwaysOn, runs: [onlyOn] };
  let sum = 0n;
  for (const life of shifted) sum += totalOf(costOver({ life, cards, from, to: until, knownTo: to + 1 }));
  return { before: (sum / BigInt(shifted.length)) as Amount, alwaysOn, runs: shifted };
}

function isThere({ state }: LifeSpan): boolean {
  return state !== "gone";
}

function moved(span: LifeSpan, by: number): LifeSpan {
  return { ...span, from: span.from + by, to: span.to + by };
}

/** Days as they are told, `2027-02-11`. */
export function datesOf(days: readonly number[]): string[] {
  return days.map(formatDate);
}
