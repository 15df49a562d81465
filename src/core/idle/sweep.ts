import { DAY_S } from "../time";
import { blocksOf } from "./blocks";
import { type HoursOver, runCourse } from "./machine";
import {
  type ConditionRead,
  countTrip,
  courseOf,
  once,
  overWindow,
  type Reading,
  readingOf,
  type Sums,
  withThreshold,
} from "./replay";
import type { Condition, IdleRule } from "./rule";
import type { Slots } from "./slots";

/** What is tried in place of a condition's own; `condition` counts from 0. */
export type Choices = Readonly<{ condition: number; thresholds: readonly number[]; windows: readonly number[] }>;
export type Point = Readonly<{ threshold: number; window: number } & Sums>;
/** One resource of a sweep. */
export type Replayable = Readonly<{ slots: Slots; hours: HoursOver | null }>;

const WEEK_S = 7 * DAY_S;

/** A sweep that can be gone on with resource by resource, so that it shows progress and can be left (docs/model.md, Idle alarms: sweep). */
export type Sweep = Readonly<{ add: (one: Replayable) => void; points: () => readonly Point[]; weeks: () => number }>;

export function sweepOf(rule: IdleRule, { condition: swept, thresholds, windows }: Choices): Sweep {
  const sums = thresholds.map(() => windows.map(() => ({ tripCount: 0, offS: 0, offDueS: 0, interruptions: 0 })));
  let [from, to] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  const add = ({ slots, hours }: Replayable): void => {
    from = Math.min(from, slots.firstEnd - slots.stepS);
    to = Math.max(to, slots.firstEnd + (slots.count - 1) * slots.stepS);
    const reading = readingOf(rule, slots, hours);
    const others = once(() => reading.conditions.map((one, k) => (k === swept ? null : overWindow(one, rule, slots))));
    const own = reading.conditions[swept] as ConditionRead;
    const withOwn = (one: ConditionRead): Reading => ({
      ...reading,
      conditions: reading.conditions.map((other, k) => (k === swept ? one : other)),
    });
    const at = (window: number, read: ConditionRead = own): ConditionRead => ({
      ...read,
      condition: { ...read.condition, window },
    });
    const blocks = blocksOf();
    thresholds.forEach((threshold, t) => {
      const tried = withThreshold(own, threshold, slots);
      windows.forEach((window, w) => {
        const point = withOwn(at(window, tried));
        const over = once(() => point.conditions.map((one, k) => others()[k] ?? overWindow(one, rule, slots)));
        const sum = (sums[t] as (typeof sums)[number])[w] as (typeof sums)[number][number];
        runCourse(courseOf(rule, point, { over, blocks }), (trip) => countTrip(sum, trip, { rule, slots, hours }));
      });
    });
  };
  return {
    add,
    points: () =>
      thresholds.flatMap((threshold, t) => windows.map((window, w) => ({ threshold, window, ...(sums[t]?.[w] as Sums) }))),
    weeks: () => (to > from ? (to - from) / WEEK_S : 0),
  };
}

/** The point with most off time whose interruptions are within what is allowed a week; null where none saves anything. `allowed` null: any number. */
export function suggested(
  points: readonly Point[],
  { weeks, allowed, op }: { weeks: number; allowed: number | null; op: Condition["op"] },
): Point | null {
  const most = allowed === null ? Number.POSITIVE_INFINITY : allowed * weeks;
  const isBelow = op[0] === "<";
  const isBetter = (a: Point, b: Point): boolean => {
    if (a.offS !== b.offS) return a.offS > b.offS;
    if (a.interruptions !== b.interruptions) return a.interruptions < b.interruptions;
    if (a.window !== b.window) return a.window > b.window;
    return isBelow ? a.threshold < b.threshold : a.threshold > b.threshold;
  };
  let best: Point | null = null;
  for (const point of points) {
    if (point.interruptions > most || point.offS <= 0) continue;
    if (best === null || isBetter(point, best)) best = point;
  }
  return best;
}
