import { DAY_S, type Instant, MINUTE_S } from "../time/instant";
import { localTime, offsetSegments } from "../time/zone";
import type { CompiledSchedule } from "./compile";
import { asLevel, type HoursLevel, type Level, sizedLevel } from "./level";

/** A stretch of time for which hours say one thing, and the row's day key (or "outside") that gives it. Null: leave. */
export type SaidInterval = Readonly<{ from: Instant; to: Instant; level: HoursLevel | null; because: string }>;
/** The same at a resource's level. */
export type Interval = Readonly<{ from: Instant; to: Instant; level: Level | null; because: string }>;

/**
 * The maximal intervals that tile `[from, to)`; equal neighbours with the same reason are one.
 *
 * Within a stretch of constant UTC offset the wall clock runs evenly, so each local day's painted
 * stretches map straight onto instants. A wall-clock time that a clock change skips lies in no
 * such stretch and never applies; one that occurs twice lies in two and applies both times
 * (docs/model.md, Hours).
 */
export function expandSaid(compiled: CompiledSchedule, from: Instant, to: Instant): SaidInterval[] {
  return tiled(compiled, { from, to, sizeOf: (said) => said });
}

const ONE = asLevel(1);

/** The same for a resource of a size: what is on has its level. A machine's size, 1, unless said. */
export function expand(compiled: CompiledSchedule, from: Instant, to: Instant, ownSize: Level = ONE): Interval[] {
  return tiled(compiled, { from, to, sizeOf: (said) => (said === null ? null : sizedLevel(said, ownSize)) });
}

type Tiling<L> = Readonly<{ from: Instant; to: Instant; sizeOf: (said: HoursLevel | null) => L | null }>;

function tiled<L>(
  compiled: CompiledSchedule,
  { from, to, sizeOf }: Tiling<L>,
): { from: Instant; to: Instant; level: L | null; because: string }[] {
  const result: { from: Instant; to: Instant; level: L | null; because: string }[] = [];
  let start = from;
  let level: L | null = null;
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
        const own = sizeOf(stretch.level);
        if (isOpen && own === level && stretch.because === because) continue;
        const at = stretchFrom - segment.offset;
        if (isOpen) result.push({ from: start, to: at, level, because });
        start = at;
        level = own;
        because = stretch.because;
        isOpen = true;
      }
    }
  }
  if (isOpen) result.push({ from: start, to, level, because });
  return result;
}

/** The level at one instant and the reason for it, for a resource of a size: the rule `expand` must agree with. */
export function levelAt(compiled: CompiledSchedule, t: Instant, ownSize: Level = ONE): { level: Level | null; because: string } {
  const { level, because } = saidAt(compiled, t);
  return { level: level === null ? null : sizedLevel(level, ownSize), because };
}

/** What hours say at one instant, straight from the painted day. */
export function saidAt(compiled: CompiledSchedule, t: Instant): { level: HoursLevel | null; because: string } {
  const local = localTime(compiled.schedule.zone, t);
  const minute = Math.floor(local.second / MINUTE_S);
  for (const stretch of compiled.dayOf(local.day)) {
    if (minute < stretch.end) return { level: stretch.level, because: stretch.because };
  }
  throw new Error("a painted day has 1440 minutes");
}
