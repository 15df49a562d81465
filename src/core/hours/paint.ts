import { DAY_MINUTES } from "../time/instant";
import { asLevel, type Level } from "./level";
import type { Span } from "./span";

/**
 * Paints minutes `[start, end)` of a row at a level. Comes back without overlaps, in order, equal
 * neighbours joined; what equals `outside` is left unpainted. Minutes run to 2880: past 1440 is after midnight.
 */
export function paintSpans(spans: readonly Span[], brush: Span, outside: Level | null): Span[] {
  return tidySpans([...spans, brush], outside);
}

/** The same hours without overlaps, in order, equal neighbours joined. Later spans are painted over earlier ones. */
export function tidySpans(spans: readonly Span[], outside: Level | null): Span[] {
  const levels: (number | null)[] = new Array(2 * DAY_MINUTES).fill(null);
  for (const { start, end, level } of spans) levels.fill(level, start, end);
  const result: Span[] = [];
  let start = 0;
  for (let minute = 1; minute <= levels.length; minute++) {
    if (minute < levels.length && levels[minute] === levels[start]) continue;
    const level = levels[start] ?? null;
    if (level !== null && level !== outside) result.push(...startingToday(start, minute, asLevel(level)));
    start = minute;
  }
  return result;
}

/** A span starts on its own day: what begins after midnight cannot be said in this row and is dropped. */
function startingToday(start: number, end: number, level: Level): Span[] {
  if (start >= DAY_MINUTES) return [];
  // A span is at most a day long; a longer stretch is two.
  if (end - start <= DAY_MINUTES) return [{ start, end, level }];
  const middle = Math.max(end - DAY_MINUTES, DAY_MINUTES / 2);
  return [
    { start, end: middle, level },
    { start: middle, end, level },
  ];
}

/** The level that a row's own spans give a minute of its day; null where none covers it. */
export function paintedAt(spans: readonly Span[], minute: number): Level | null {
  for (let i = spans.length - 1; i >= 0; i--) {
    const span = spans[i] as Span;
    if (minute >= span.start && minute < span.end) return span.level;
  }
  return null;
}
