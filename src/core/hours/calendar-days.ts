import { type DayNumber, dayNumber, formatDate } from "../time/date";

/** The days of holidays written as dates and ranges. */
export function holidayDays(holidays: readonly string[]): ReadonlySet<DayNumber> {
  const days = new Set<DayNumber>();
  for (const text of holidays) {
    const [from, to] = text.split("..") as [string, string?];
    const last = dayNumber(to ?? from);
    for (let day = dayNumber(from); day <= last; day++) days.add(day);
  }
  return days;
}

/** The same as single dates, in order. */
export function holidayDates(holidays: readonly string[]): readonly string[] {
  return [...holidayDays(holidays)].sort((a, b) => a - b).map(formatDate);
}

/** Dates as a calendar writes them: days that follow each other as ranges. */
export function holidayRanges(dates: readonly string[]): readonly string[] {
  const days = [...new Set(dates.map(dayNumber))].sort((a, b) => a - b);
  const ranges: string[] = [];
  let from = days[0];
  days.forEach((day, i) => {
    if (days[i + 1] === day + 1) return;
    ranges.push(from === day ? formatDate(day) : `${formatDate(from as number)}..${formatDate(day)}`);
    from = days[i + 1];
  });
  return ranges;
}
