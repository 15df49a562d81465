import { DAY_S, HOUR_S, type Instant } from "./instant";

/** Days since 1970-01-01 in the proleptic Gregorian calendar; a local date without a zone. */
export type DayNumber = number;

export const WEEKDAYS = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"] as const;
export type Weekday = (typeof WEEKDAYS)[number];

const DATE = /^(\d{4})-(\d\d)-(\d\d)$/;

/** Reads `YYYY-MM-DD`; null when it is not a date of the calendar. */
export function tryParseDate(text: string): DayNumber | null {
  const match = DATE.exec(text);
  if (!match) return null;
  const date = new Date(0);
  date.setUTCFullYear(Number(match[1]), Number(match[2]) - 1, Number(match[3]));
  if (date.getUTCMonth() !== Number(match[2]) - 1 || date.getUTCDate() !== Number(match[3])) return null;
  return date.getTime() / 1000 / DAY_S;
}

/** The same for a date that was checked before. Throws on anything else. */
export function dayNumber(text: string): DayNumber {
  const day = tryParseDate(text);
  if (day === null) throw new Error(`unchecked date ${text}`);
  return day;
}

/** `YYYY-MM-DD`. */
export function formatDate(day: DayNumber): string {
  return new Date(day * DAY_S * 1000).toISOString().slice(0, 10);
}

/** The UTC date of an instant, `YYYY-MM-DD`. */
export function utcDate(t: Instant): string {
  return formatDate(Math.floor(t / DAY_S));
}

/** 0 for Monday to 6 for Sunday. 1970-01-01 was a Thursday. */
export function weekdayIndex(day: DayNumber): number {
  return (((day + 3) % 7) + 7) % 7;
}

/** The UTC hour of the week that holds an instant: 0 for Monday 00:00 to 167. */
export function hourOfWeek(t: Instant): number {
  const day = Math.floor(t / DAY_S);
  return weekdayIndex(day) * (DAY_S / HOUR_S) + Math.floor((t - day * DAY_S) / HOUR_S);
}
