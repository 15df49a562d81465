import { formatDate, tryParseDate, WEEKDAYS, type Weekday } from "../../time/date";
import type { DayKey } from "../schedule";

/** The open notation's names, Monday first, in the order of `WEEKDAYS`. */
export const DAY_NAMES = ["Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"] as const;
export const MONTH_NAMES = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"] as const;

/** A day key in the open notation: `Mo-Fr`, `PH`, `2027 Apr 01-05`; the empty text for every day. */
export function dayKeyToLine(day: DayKey): string {
  switch (day.kind) {
    case "weekdays":
      return weekdaysToLine(day.days);
    case "dates":
      return datesToLine(day.from, day.to);
    case "class":
      return day.name === "holidays" ? "PH" : "";
  }
}

/** `Mo-We,Fr`: runs of three and more are ranges. */
export function weekdaysToLine(days: readonly Weekday[]): string {
  const parts: string[] = [];
  for (let i = 0; i < 7; i++) {
    if (!days.includes(WEEKDAYS[i] as Weekday)) continue;
    let end = i;
    while (end < 6 && days.includes(WEEKDAYS[end + 1] as Weekday)) end++;
    if (end - i >= 2) parts.push(`${DAY_NAMES[i]}-${DAY_NAMES[end]}`);
    else for (let day = i; day <= end; day++) parts.push(DAY_NAMES[day] as string);
    i = end;
  }
  return parts.join(",");
}

function datesToLine(from: string, to: string): string {
  const said = (date: string) => {
    const [year, month, day] = date.split("-") as [string, string, string];
    return `${year} ${MONTH_NAMES[Number(month) - 1]} ${day}`;
  };
  // Both ends in full: not every reader of the notation takes `2027 Feb 19-28`.
  return from === to ? said(from) : `${said(from)}-${said(to)}`;
}

/** The date number of a year, an English month name and a day; null when there is none. */
export function dateOf(year: string, month: string, day: string): number | null {
  const index = (MONTH_NAMES as readonly string[]).indexOf(month);
  return index < 0 ? null : tryParseDate(`${year}-${String(index + 1).padStart(2, "0")}-${day.padStart(2, "0")}`);
}

export function datesKey(from: number, to: number): DayKey {
  return { kind: "dates", from: formatDate(from), to: formatDate(to) };
}
