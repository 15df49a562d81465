import type { Level } from "../hours";
import type { Instant } from "../time";
import type { Verdicts } from "./means";
import { ELSEWHEN, HOLDS, NOTHING } from "./verdicts";

/** The hours of a resource over its samples, for a replay: the instants of their rises, and stretches that tile its span. */
export type HoursOver = Readonly<{
  rises: readonly Instant[];
  spans: readonly Readonly<{ from: Instant; to: Instant; level: Level | null }>[];
}>;

export type Course = Readonly<{
  stepS: number;
  firstEnd: Instant;
  count: number;
  /** Slot by slot: nothing to evaluate, does not hold, holds, or does not apply. */
  verdicts: Verdicts;
  /** Seconds after a start from which `verdicts` can be trusted: all windows and the settle time lie behind it. */
  trustedAfterS: number;
  /** Seconds after a start before which every condition is blind. */
  blindForS: number;
  /** The verdict at a slot with only what lies after a start, whatever of it is settled by then; for the time in between. */
  near: (slot: number, startedAt: Instant) => number;
  /** The first slot from one on whose own sample says that somebody came; `count` where none does. */
  firstFailing: (from: number) => number;
  rises: readonly Instant[];
  /** Starts that nobody asked for, each one of the rises: nothing from before one counts after it. */
  starts: readonly Instant[];
  warnS: number;
  isTell: boolean;
}>;

/** Told of each trip: `backAt` null where it lasts to the end; `byOnset` where somebody came. */
export type OnTrip = (
  trip: Readonly<{ warnedAt: Instant; trippedAt: Instant; backAt: Instant | null; byOnset: boolean }>,
) => void;

/** Runs a rule's states over a course of slots (docs/model.md, Idle alarms: evaluation and backtest). */
export function runCourse(course: Course, onTrip: OnTrip): void {
  const { stepS, firstEnd, count, verdicts, rises, starts, warnS, isTell } = course;
  // Hot: what is imported is looked up anew each time where nothing bundles it.
  const [nothing, holds, elsewhen] = [NOTHING, HOLDS, ELSEWHEN];
  const endOf = (slot: number): Instant => firstEnd + slot * stepS;
  const slotAfter = (t: Instant): number => Math.max(0, Math.floor((t - firstEnd) / stepS) + 1);
  let startedAt = Number.NEGATIVE_INFINITY;
  let trusted = 0;
  let started = 0;
  /** Slots from here on lie after the next start. */
  let until = count;
  let slot = 0;
  let rise = 0;
  const look = (i: number): number => (i >= trusted ? verdicts.at(i) : course.near(i, startedAt));
  begin(firstEnd - stepS);
  while (slot < count) {
    if (slot >= until) begin(starts[started] as Instant);
    // Until then every condition is blind.
    slot = Math.max(slot, slotAtOrAfter(startedAt + course.blindForS));
    const warned = slot < until ? firstHolding(slot) : until;
    if (warned >= until) {
      slot = until;
      continue;
    }
    const tripped = whenTripped(warned);
    if (tripped < 0) {
      slot = -tripped;
      continue;
    }
    const trippedAt = endOf(tripped);
    const warnedAt = endOf(warned);
    if (isTell) {
      let end = tripped + 1;
      for (; end < count; end++) {
        if (end >= until) begin(starts[started] as Instant);
        const verdict = look(end);
        if (verdict !== nothing && verdict !== elsewhen && verdict !== holds) break;
      }
      onTrip({ warnedAt, trippedAt, backAt: end < count ? endOf(end) : null, byOnset: false });
      slot = end + 1;
      continue;
    }
    const onset = course.firstFailing(tripped + 1);
    while (rise < rises.length && (rises[rise] as number) <= trippedAt) rise++;
    const onsetAt = onset < count ? endOf(onset) : Number.POSITIVE_INFINITY;
    const riseAt = rises[rise] ?? Number.POSITIVE_INFINITY;
    const backAt = Math.min(onsetAt, riseAt);
    // A rise after the last sample is not seen.
    if (backAt > endOf(count - 1)) {
      onTrip({ warnedAt, trippedAt, backAt: null, byOnset: false });
      return;
    }
    onTrip({ warnedAt, trippedAt, backAt, byOnset: onsetAt < riseAt });
    slot = slotAfter(backAt);
    begin(backAt);
  }

  function begin(at: Instant): void {
    startedAt = at;
    trusted = slotAtOrAfter(at + course.trustedAfterS);
    while (started < starts.length && (starts[started] as Instant) <= at) started++;
    until = started < starts.length ? Math.min(count, slotAfter(starts[started] as Instant)) : count;
  }

  function slotAtOrAfter(t: Instant): number {
    return Math.max(0, Math.ceil((t - firstEnd) / stepS));
  }

  function firstHolding(from: number): number {
    let i = from;
    for (; i < Math.min(trusted, until); i++) if (look(i) === holds) return i;
    return i < until ? verdicts.firstHolding(i) : until;
  }

  /** The slot of the trip after a warning; where it is cancelled, the slot of that, negative; the end, negative, where neither comes. */
  function whenTripped(warned: number): number {
    const dueAt = endOf(warned) + warnS;
    for (let i = warned; i < until; i++) {
      const verdict = look(i);
      if (verdict === nothing) continue;
      if (verdict !== holds) return -i;
      if (endOf(i) >= dueAt) return i;
    }
    return -until;
  }
}
