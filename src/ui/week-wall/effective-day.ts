import { type CompiledSchedule, expandSaid, type SaidInterval } from "@/core/hours";
import { DAY_S, type Instant, resolveLocal } from "@/core/time";

/** A local date from its first instant to its last: 23, 24 or 25 hours. */
export type EffectiveDay = Readonly<{
  day: number;
  from: Instant;
  to: Instant;
  hours: number;
  intervals: readonly SaidInterval[];
}>;

/** What a schedule gives a local date, clock changes and what runs over from the day before included. */
export function effectiveDay(compiled: CompiledSchedule, day: number): EffectiveDay {
  const { zone } = compiled.schedule;
  const from = resolveLocal(zone, day, 0);
  const to = resolveLocal(zone, day + 1, 0);
  return { day, from, to, hours: (to - from) / 3600, intervals: from < to ? expandSaid(compiled, from, to) : [] };
}

/** Seconds of the date at which something is on. */
export function onSeconds({ intervals }: EffectiveDay): number {
  return intervals.reduce((sum, { from, to, level }) => sum + ((level ?? 0) > 0 ? to - from : 0), 0);
}

export const USUAL_HOURS = DAY_S / 3600;
