import type { Level } from "../hours";
import { HOUR_S, type Instant } from "../time";

/**
 * What the hours of a resource last said, as a finished round saw it. `foreseenSince` is when they fell as
 * could be known an hour before, for as long as the stop that this asks for has not been done.
 */
export type HoursObserved = Readonly<{
  fleet: string;
  /** Since when this fleet has it. */
  since: Instant;
  level: Level | null;
  foreseenSince: Instant | null;
}>;

/** A plan, a schedule, a calendar and a membership count as known once they have stood this long. */
export const STOOD_S = HOUR_S;

export type Observing = Readonly<{
  fleet: string;
  /** What its hours say now; null: leave. */
  level: Level | null;
  now: Instant;
  isOff: boolean;
  /** When what runs began to; null while nothing does. */
  runSince: Instant | null;
  /** True where its hours, as they stood an hour ago, fell between the last look and now. */
  fellAsKnown: () => boolean;
}>;

/** What is to be remembered after a look; the same object where nothing is new. */
export function observedAfter(last: HoursObserved | undefined, look: Observing): HoursObserved {
  const { fleet, level, now, isOff, runSince, fellAsKnown } = look;
  if (!last || last.fleet !== fleet) return { fleet, since: now, level, foreseenSince: null };
  const isKnownLong = now - last.since >= STOOD_S;
  let { foreseenSince } = last;
  if (level !== 0) foreseenSince = null;
  // What stood at off before may have risen and fallen while nobody looked.
  else if (last.level !== 0 || (foreseenSince === null && !isOff)) foreseenSince = isKnownLong && fellAsKnown() ? now : null;
  // It was stopped, or somebody started it since: the next stop of it is another one.
  if (isOff || (foreseenSince !== null && runSince !== null && runSince > foreseenSince)) foreseenSince = null;
  return level === last.level && foreseenSince === last.foreseenSince ? last : { ...last, level, foreseenSince };
}
