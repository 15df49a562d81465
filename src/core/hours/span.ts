import { DAY_MINUTES } from "../time/instant";
import { asCount, type HoursLevel, LEVEL_MAX, ON } from "./level";

/**
 * `[start, end)` in minutes of the local day, with a level. `end` runs to 2880: past 1440 the span
 * goes over midnight and belongs to the day it starts on.
 */
export type Span = Readonly<{ start: number; end: number; level: HoursLevel }>;

/** True where any of them goes over midnight. */
export function runsPastMidnight(spans: readonly Span[] | "off"): boolean {
  return spans !== "off" && spans.some(({ end }) => end > DAY_MINUTES);
}

export type SpanResult = Readonly<{ ok: true; span: Span }> | Readonly<{ ok: false; message: string }>;

const SPAN = /^(\d{1,2}):(\d{2})-(\d{1,2}):(\d{2})(?: x(\d{1,7}))?$/;

/** Reads `HH:MM-HH:MM`, which is on, or `HH:MM-HH:MM xLEVEL`; the message names the bad part and what was expected. */
export function tryParseSpan(text: string): SpanResult {
  const match = SPAN.exec(text);
  if (!match) return fail(`"${text}" is not a span: expected HH:MM-HH:MM, optionally followed by " xLEVEL"`);
  const [startHour, startMinute, endHour, endMinute] = match.slice(1, 5) as [string, string, string, string];
  const start = minuteOfDay(startHour, startMinute);
  const end = minuteOfDay(endHour, endMinute);
  if (start === null || start === DAY_MINUTES) {
    return fail(`${startHour}:${startMinute} in "${text}" is not a time a span can start at: expected 00:00 to 23:59`);
  }
  if (end === null) return fail(`${endHour}:${endMinute} in "${text}" is not a time: expected 00:00 to 24:00`);
  const count = Number(match[5] ?? 0);
  if (count > LEVEL_MAX) return fail(`level ${count} in "${text}" is above ${LEVEL_MAX}`);
  const level = match[5] === undefined ? ON : asCount(count);
  return { ok: true, span: { start, end: end <= start ? end + DAY_MINUTES : end, level } };
}

function minuteOfDay(hour: string, minute: string): number | null {
  if (hour.length !== 2) return null;
  const value = Number(hour) * 60 + Number(minute);
  return Number(minute) > 59 || value > DAY_MINUTES ? null : value;
}

function fail(message: string): SpanResult {
  return { ok: false, message };
}

/** `HH:MM` of a minute; 1440 is written 24:00 and later minutes count from midnight again. */
export function formatMinute(minute: number): string {
  const inDay = minute > DAY_MINUTES ? minute - DAY_MINUTES : minute;
  return `${String(Math.floor(inDay / 60)).padStart(2, "0")}:${String(inDay % 60).padStart(2, "0")}`;
}

/** The span as `tryParseSpan` reads it. */
export function formatSpan(span: Span): string {
  const suffix = span.level === ON ? "" : ` x${span.level}`;
  return `${formatMinute(span.start)}-${formatMinute(span.end)}${suffix}`;
}
