import { type DayNumber, formatDate, type Instant, localTime, resolveLocal, WEEKDAYS, type Weekday, weekdayIndex } from "../time";

/** When a report goes out: a minute of the local day of a zone, on some weekdays. */
export type ReportTime = Readonly<{ zone: string; minute: number; days: readonly Weekday[] }>;

/**
 * The local date whose issue is due at `now` and was not sent yet, or null. Only the newest counts: a
 * clock that jumped over several days brings one issue. A time that does not occur that day counts
 * with the offset before the gap, as RFC 5545 has it.
 */
export function dueIssue(
  { zone, minute, days }: ReportTime,
  { now, lastDay }: { now: Instant; lastDay: string | null },
): string | null {
  const today = localTime(zone, now).day;
  for (const day of [today, today - 1]) {
    const date = formatDate(day);
    if (lastDay !== null && date <= lastDay) return null;
    if (isOn(days, day) && issueAt(zone, day, minute) <= now) return date;
  }
  return null;
}

/** When the next issue goes out after `now`; null where there are no days. */
export function nextIssue({ zone, minute, days }: ReportTime, now: Instant): Instant | null {
  const today = localTime(zone, now).day;
  for (let day = today; day <= today + 8; day++) {
    const at = issueAt(zone, day, minute);
    if (isOn(days, day) && at > now) return at;
  }
  return null;
}

function isOn(days: readonly Weekday[], day: DayNumber): boolean {
  return days.includes(WEEKDAYS[weekdayIndex(day)] as Weekday);
}

function issueAt(zone: string, day: DayNumber, minute: number): Instant {
  return resolveLocal(zone, day, minute * 60);
}
