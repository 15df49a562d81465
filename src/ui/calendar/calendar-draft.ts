import { type Calendar, holidayDates, holidayRanges } from "@/core/hours";
import type { Holiday } from "@/core/ics";
import { WEEKDAYS, type Weekday } from "@/core/time";
import type { StoredCalendar } from "@/services/plans";

/** A calendar as it is edited: every holiday a date of its own, with a name or none. */
export type CalendarDraft = Readonly<{
  name: string;
  rest: readonly Weekday[];
  /** Date to name. */
  days: Readonly<Record<string, string>>;
}>;

export function draftOf(stored: StoredCalendar | null): CalendarDraft {
  if (!stored) return { name: "", rest: ["sat", "sun"], days: {} };
  const { calendar, dayNames } = stored;
  const days = Object.fromEntries(holidayDates(calendar.holidays).map((date) => [date, dayNames[date] ?? ""]));
  return { name: calendar.name, rest: calendar.rest, days };
}

/** What is stored of a draft: dates that follow each other as ranges, and the names there are. */
export function storedOf({ name, rest, days }: CalendarDraft): { calendar: Calendar; dayNames: Record<string, string> } {
  const dayNames = Object.fromEntries(Object.entries(days).filter(([, named]) => named !== ""));
  return { calendar: { name: name.trim(), rest, holidays: holidayRanges(Object.keys(days)) }, dayNames };
}

export function withRest(draft: CalendarDraft, day: Weekday): CalendarDraft {
  const rest = WEEKDAYS.filter((one) => draft.rest.includes(one) !== (one === day));
  return { ...draft, rest };
}

/** A date becomes a holiday, or stops being one. */
export function withDay(draft: CalendarDraft, date: string): CalendarDraft {
  if (!(date in draft.days)) return { ...draft, days: { ...draft.days, [date]: "" } };
  const { [date]: _, ...days } = draft.days;
  return { ...draft, days };
}

/** Holidays from elsewhere join those there are; their names win over none. */
export function withHolidays(draft: CalendarDraft, holidays: readonly Holiday[]): CalendarDraft {
  const days = { ...draft.days };
  for (const { date, name } of holidays) days[date] = name || days[date] || "";
  return { ...draft, days };
}
