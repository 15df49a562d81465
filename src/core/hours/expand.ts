import { DAY_S, type Instant, MINUTE_S } from "../time/instant";
import { localTime, offsetSegments } from "../time/zone";
import type { CompiledSchedule } from "./compile";
import type { Level } from "./level";

/** A stretch of time at one level, and the row's day key (or "outside") that gives it. `level` null: leave. */
export type Interval = Readonly<{ from: Instant; to: Instant; level: Level | null; because: string }>;

/**
 * The maximal intervals that tile `[from, to)`; equal neighbours with the same reason are one.
 *
 * Within a stretch of constant UTC offset the wall clock runs evenly, so each local day's painted
 * stretches map straight onto instants. A wall-clock time that a clock change skips lies in no
 * such stretch and never applies; one that occurs twice lies in two and applies both times
 * (docs/model.md, Hours).
 */
export function expand(compiled: CompiledSchedule, from: Instant, to: Instant): Interval[] {
  const result: Interval[] = [];
  let start = from;
  let level: Level | null = null;
  let because = "";
  let isOpen = false;
  for (const segment of offsetSegments(compiled.schedule.zone, from, to)) {
    const localFrom = segment.from + segment.offset;
    const localTo = segment.to + segment.offset;
    for (let day = Math.floor(localFrom / DAY_S); day * DAY_S < localTo; day++) {
      const midnight = day * DAY_S;
      for (const stretch of compiled.dayOf(day)) {
        const stretchFrom = Math.max(localFrom, midnight + stretch.start * MINUTE_S);
        const stretchTo = Math.min(localTo, midnight + stretch.end * MINUTE_S);
        if (stretchFrom >= stretchTo) continue;
        if (isOpen && stretch.level === level && stretch.because === because) continue;
        const at = stretchFrom - segment.offset;
        if (isOpen) result.push({ from: start, to: at, level, because });
        start = at;
        level = stretch.level;
        because = stretch.because;
        isOpen = true;
      }
    }
  }
  if (isOpen) result.push({ from: start, to, level, because });
  return result;
}

/** The level at one instant and the reason for it, straight from the painted day: the rule `expand` must agree with. */
export function levelAt(compiled: CompiledSchedule, t: Instant): { level: Level | null; because: string } {
  const local = localTime(compiled.schedule.zone, t);
  const minute = Math.floor(local.second / MINUTE_S);
  for (const stretch of compiled.dayOf(local.day)) {
    if (minute < stretch.end) return { level: stretch.level, because: stretch.because };
  }
  throw new Error("a painted day has 1440 minutes");
}
