import type { Level } from "../hours";
import type { Resource } from "../plan";
import type { Amount, Coverable, RateCard } from "../pricing";
import { DAY_S, type Instant, WEEKDAYS, weekdayIndex } from "../time";

export type Window = Readonly<{ from: Instant; to: Instant }>;
/** A stretch at one level. */
export type Run = Readonly<{ from: Instant; to: Instant; level: Level }>;

/** The UTC days that "as it ran" rests on, as day numbers in order. */
export type BasisDays = readonly number[];

/** How one resource ran on the basis days, at today's prices. */
export type Ran = Readonly<{
  /** Its runs for the bill, in order; what lies outside the basis days does not count. */
  runs: readonly Run[];
  /** What it cost on all Mondays of the basis together, on all Tuesdays, …: images, kept disks and halted machines included. */
  byWeekday: readonly Amount[];
}>;

/** A resource with what it costs, how it ran, and what on means for it. */
export type Line = Readonly<{
  id: string;
  kind: Resource["kind"];
  /** What commitments look at. */
  one: Coverable;
  levelMax: number;
  ownSize: Level;
  card: RateCard;
  /** Null where there is no day that it could rest on. */
  ran: Ran | null;
  /** It is guarded, belongs to a fleet above, or its hours cannot be read: no lever touches it. */
  isLeft: boolean;
  canHibernate: boolean;
}>;

export const WEEK = WEEKDAYS.length;

/** How many of the basis days fall on each weekday, Monday first. */
export function daysByWeekday(days: BasisDays): number[] {
  const counts = new Array<number>(WEEK).fill(0);
  for (const day of days) counts[weekdayIndex(day)] = (counts[weekdayIndex(day)] ?? 0) + 1;
  return counts;
}

/** The days `[from, to)` as basis days, less those left out. */
export function basisDays({ from, to }: Window, isLeftOut: (day: number) => boolean = () => false): BasisDays {
  const first = Math.ceil(from / DAY_S);
  const count = Math.max(0, Math.floor(to / DAY_S) - first);
  return Array.from({ length: count }, (_, i) => first + i).filter((day) => !isLeftOut(day));
}
