import { DAY_MINUTES } from "../time/instant";
import { HOURS_OFF, type HoursLevel } from "./level";
import { paintedAt, tidySpans } from "./paint";
import type { Span } from "./span";

/** The minutes of the row's own day at which it is off, as spans at level 0. What runs past midnight is not its own day. */
export function offSpans(spans: readonly Span[], outside: HoursLevel | null): readonly Span[] {
  const off: Span[] = [];
  let start: number | null = null;
  for (let minute = 0; minute <= DAY_MINUTES; minute++) {
    const isOff = minute < DAY_MINUTES && (paintedAt(spans, minute) ?? outside) === 0;
    if (isOff) start ??= minute;
    else if (start !== null) {
      off.push({ start, end: minute, level: HOURS_OFF });
      start = null;
    }
  }
  return off;
}

/**
 * A row that is off during `off` and on in the rest of its day: minutes that were on keep their
 * level, new ones get `brush`. What runs past midnight stays.
 */
export function onDuring(
  spans: readonly Span[],
  off: readonly Span[],
  brush: { level: HoursLevel; outside: HoursLevel | null },
): Span[] {
  const level = (minute: number): HoursLevel => {
    if (off.some(({ start, end }) => minute >= start && minute < end)) return HOURS_OFF;
    const before = paintedAt(spans, minute) ?? brush.outside ?? HOURS_OFF;
    return before > 0 ? before : brush.level;
  };
  const painted: Span[] = [...spans];
  let start = 0;
  for (let minute = 1; minute <= DAY_MINUTES; minute++) {
    if (minute < DAY_MINUTES && level(minute) === level(start)) continue;
    painted.push({ start, end: minute, level: level(start) });
    start = minute;
  }
  return tidySpans(painted, brush.outside);
}
