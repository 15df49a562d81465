import { DAY_S, type Instant, weekdayIndex } from "../time";
import { WEEK, type Window } from "./line";

/** A span that a projection is made for: a named UTC month as a rule. */
export type Month = Window & Readonly<{ name: string }>;

/** The UTC month that holds `t` and those after it, named `YYYY-MM`. */
export function monthsFrom(t: Instant, count: number): readonly Month[] {
  const date = new Date(t * 1000);
  const start = (i: number) => Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + i, 1) / 1000;
  return Array.from({ length: count }, (_, i) => ({
    name: new Date(start(i) * 1000).toISOString().slice(0, 7),
    from: start(i),
    to: start(i + 1),
  }));
}

/** Seconds of a span on each UTC weekday, Monday first. */
export function weekdaySeconds({ from, to }: Window): number[] {
  const seconds = new Array<number>(WEEK).fill(0);
  for (let day = Math.floor(from / DAY_S); day * DAY_S < to; day++) {
    const inDay = Math.min(to, (day + 1) * DAY_S) - Math.max(from, day * DAY_S);
    seconds[weekdayIndex(day)] = (seconds[weekdayIndex(day)] ?? 0) + inDay;
  }
  return seconds;
}
