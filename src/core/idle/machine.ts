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
  /** The verdict at a slot by only those conditions whose window begins at or after a start; for the time in between. */
  near: (slot: number, startedAt: Instant) => number;
  /** The first slot from one on whose own sample says that somebody came; `count` where none does. */
  firstFailing: (from: number) => number;
  rises: readonly Instant[];
  warnS: number;
  isTell: boolean;
}>;

/** Told of each trip: `backAt` null where it lasts to the end; `byOnset` where somebody came. */
export type OnTrip = (
  trip: Readonly<{ warnedAt: Instant; trippedAt: Instant; backAt: Instant | null; byOnset: boolean }>,
) => void;

/** Runs a rule's states over a course of slots (docs/model.md, Idle alarms: evaluation and backtest). */
export function runCourse(course: Course, onTrip: OnTrip): void {
  const { stepS, firstEnd, count, verdicts, rises, warnS, isTell } = course;
  // Hot: what is imported is looked up anew each time where nothing bundles it.
  const [nothing, holds, elsewhen] = [NOTHING, HOLDS, ELSEWHEN];
  const endOf = (slot: number): Instant => firstEnd + slot * stepS;
  const slotAfter = (t: Instant): number => Math.max(0, Math.floor((t - firstEnd) / stepS) + 1);
  let startedAt = firstEnd - stepS;
  let slot = 0;
  let rise = 0;
  while (slot < count) {
    // Until then every condition is blind.
    slot = Math.max(slot, slotAtOrAfter(startedAt + course.blindForS));
    const trusted = Math.max(slot, slotAtOrAfter(startedAt + course.trustedAfterS));
    const look = (i: number): number => (i >= trusted ? verdicts.at(i) : course.near(i, startedAt));
    const warned = firstHolding(look, slot, trusted);
    if (warned >= count) return;
    const tripped = whenTripped(look, warned);
    if (tripped < 0) {
      slot = -tripped;
      continue;
    }
    const trippedAt = endOf(tripped);
    const warnedAt = endOf(warned);
    if (isTell) {
      let end = tripped + 1;
      for (; end < count; end++) {
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
    startedAt = backAt;
    slot = slotAfter(backAt);
  }

  function slotAtOrAfter(t: Instant): number {
    return Math.max(0, Math.ceil((t - firstEnd) / stepS));
  }

  function firstHolding(look: (i: number) => number, from: number, trusted: number): number {
    let i = from;
    for (; i < Math.min(trusted, count); i++) if (look(i) === holds) return i;
    return i < count ? verdicts.firstHolding(i) : count;
  }

  /** The slot of the trip after a warning; where it is cancelled, the slot of that, negative; the end, negative, where neither comes. */
  function whenTripped(look: (i: number) => number, warned: number): number {
    const dueAt = endOf(warned) + warnS;
    for (let i = warned; i < count; i++) {
      const verdict = look(i);
      if (verdict === nothing) continue;
      if (verdict !== holds) return -i;
      if (endOf(i) >= dueAt) return i;
    }
    return -count;
  }
}
