import { DAY_MINUTES } from "../time/instant";
import type { HoursLevel } from "./level";
import type { Span } from "./span";

/**
 * Paints minutes `[start, end)` of a row at a level. Comes back in order, equal neighbours
 * joined; what equals `outside` is left unpainted. Minutes run to 2880: past 1440 is after midnight.
 */
export function paintSpans(spans: readonly Span[], brush: Span, outside: HoursLevel | null): Span[] {
  return tidySpans([...spans, brush], outside);
}

/**
 * The same hours in order, equal neighbours joined, without overlaps but one: what has another level
 * after midnight than just before it is written from 23:59 on, under the span that covers that minute.
 * Later spans are painted over earlier ones. Where that minute is off, the hours after midnight go too.
 */
export function tidySpans(spans: readonly Span[], outside: HoursLevel | null): Span[] {
  const levels: (HoursLevel | null)[] = new Array(2 * DAY_MINUTES).fill(null);
  for (const { start, end, level } of spans) levels.fill(level, start, end);
  const today: Span[] = [];
  const tonight: Span[] = [];
  let start = 0;
  for (let minute = 1; minute <= levels.length; minute++) {
    if (minute < levels.length && levels[minute] === levels[start]) continue;
    const level = levels[start] ?? null;
    // After midnight what is as outside is written too: it lies over what goes on behind it.
    if (level !== null && start >= DAY_MINUTES) tonight.unshift({ start: LAST_MINUTE, end: minute, level });
    else if (level !== null && level !== outside) today.push(...atMostADay(start, minute, level));
    start = minute;
  }
  const isEveningOn = today.some((span) => span.start <= LAST_MINUTE && span.end > LAST_MINUTE);
  return isEveningOn ? [...tonight, ...today] : today;
}

const LAST_MINUTE = DAY_MINUTES - 1;

/** A span is at most a day long; a longer stretch is two. */
function atMostADay(start: number, end: number, level: HoursLevel): Span[] {
  if (end - start <= DAY_MINUTES) return [{ start, end, level }];
  const middle = Math.max(end - DAY_MINUTES, DAY_MINUTES / 2);
  return [
    { start, end: middle, level },
    { start: middle, end, level },
  ];
}

/** The level that a row's own spans give a minute of its day; null where none covers it. */
export function paintedAt(spans: readonly Span[], minute: number): HoursLevel | null {
  for (let i = spans.length - 1; i >= 0; i--) {
    const span = spans[i] as Span;
    if (minute >= span.start && minute < span.end) return span.level;
  }
  return null;
}
