import { dayNumber, formatDate, WEEKDAYS, weekdayIndex } from "../time/date";
import { DAY_MINUTES } from "../time/instant";
import { holidayDays } from "./calendar-days";
import { HOURS_OFF, type HoursLevel } from "./level";
import { type Calendar, dayKeyLabel, PLAIN_CALENDAR, type Row, type Schedule } from "./schedule";

/** A painted stretch of one local day: minutes `[start, end)`, its level (null: leave) and the row that made it. */
export type Stretch = Readonly<{ start: number; end: number; level: HoursLevel | null; because: string }>;

/** A schedule made ready for asking: rows ranked by kind of day, painted days kept. */
export type CompiledSchedule = Readonly<{
  schedule: Schedule;
  /** The row that speaks for the local date, or -1. */
  rowOf: (day: number) => number;
  /** The stretches that tile the local date's 1440 minutes. Do not change them: they are shared. */
  dayOf: (day: number) => readonly Stretch[];
  isHoliday: (day: number) => boolean;
  isRest: (day: number) => boolean;
}>;

export const OUTSIDE = "outside";

type Range = Readonly<{ from: number; to: number }>;
type DateRow = Range & Readonly<{ row: number }>;

/** Which row speaks where several apply: the most specific, as in a schedule, or simply the last, as in an hours line. */
export type Precedence = "specific" | "last";

/** Ranks the rows once per kind of day. `calendar` undefined means Saturday and Sunday rest and no holidays. */
export function compileSchedule(
  schedule: Schedule,
  calendar: Calendar = PLAIN_CALENDAR,
  precedence: Precedence = "specific",
): CompiledSchedule {
  const holidays = holidayDays(calendar.holidays);
  const rest = WEEKDAYS.map((day) => calendar.rest.includes(day));
  const hasHolidays = holidays.size > 0;
  const isHoliday = (day: number) => holidays.has(day);
  const isRest = (day: number) => rest[weekdayIndex(day)] === true || holidays.has(day);
  const { onPlainDay, onHoliday } = rowsByKindOfDay(schedule.rows, calendar, precedence);
  const dated: DateRow[] = [];
  schedule.rows.forEach(({ day }, row) => {
    if (day.kind === "dates") dated.push({ from: dayNumber(day.from), to: dayNumber(day.to), row });
  });
  dated.reverse();

  const rowOf = (day: number): number => {
    const kinds = hasHolidays && holidays.has(day) ? onHoliday : onPlainDay;
    const other = kinds[weekdayIndex(day)] as number;
    for (let i = 0; i < dated.length; i++) {
      const range = dated[i] as DateRow;
      if (day >= range.from && day <= range.to) return precedence === "last" ? Math.max(range.row, other) : range.row;
    }
    return other;
  };

  const painted: (readonly Stretch[] | undefined)[] = [];
  const width = schedule.rows.length + 1;
  // Days are mostly asked for in order: the row of the day before is that of the last answer.
  let lastDay = Number.NaN;
  let lastRow = -1;
  const dayOf = (day: number): readonly Stretch[] => {
    const before = day - 1 === lastDay ? lastRow : rowOf(day - 1);
    const own = rowOf(day);
    lastDay = day;
    lastRow = own;
    const key = (before + 1) * width + own + 1;
    const known = painted[key];
    if (known) return known;
    const stretches = paintDay(schedule, before, own);
    painted[key] = stretches;
    return stretches;
  };
  return { schedule, rowOf, dayOf, isHoliday, isRest };
}

/** The row without dates that speaks on each weekday, Monday first, and on each weekday that is a holiday; -1 for none. */
export type RowsByKindOfDay = Readonly<{ onPlainDay: readonly number[]; onHoliday: readonly number[] }>;

export function rowsByKindOfDay(rows: readonly Row[], calendar: Calendar, precedence: Precedence = "specific"): RowsByKindOfDay {
  const isRest = (day: (typeof WEEKDAYS)[number]) => calendar.rest.includes(day);
  return {
    onPlainDay: WEEKDAYS.map((day, weekday) => bestRow(rows, { weekday, isHoliday: false, isRest: isRest(day) }, precedence)),
    onHoliday: WEEKDAYS.map((_, weekday) => bestRow(rows, { weekday, isHoliday: true, isRest: true }, precedence)),
  };
}

type KindOfDay = Readonly<{ weekday: number; isHoliday: boolean; isRest: boolean }>;

/** The row without dates that speaks for a kind of day: the most specific, among equals the last; or just the last. */
function bestRow(rows: readonly Row[], kind: KindOfDay, precedence: Precedence): number {
  let best = -1;
  let bestRank = 0;
  rows.forEach((row, i) => {
    const rank = rankOf(row, kind);
    if (rank > 0 && (precedence === "last" || rank >= bestRank)) {
      best = i;
      bestRank = rank;
    }
  });
  return best;
}

/** 0 where the row does not apply, else its specificity: daily 1, workdays / restdays 2, weekdays 3, holidays 4. */
function rankOf(row: Row, kind: KindOfDay): number {
  const { day } = row;
  if (day.kind === "dates") return 0;
  if (day.kind === "weekdays") {
    const named = day.days.includes(WEEKDAYS[kind.weekday] as (typeof WEEKDAYS)[number]);
    return named && (!kind.isHoliday || row.onHolidays) ? 3 : 0;
  }
  switch (day.name) {
    case "daily":
      return 1;
    case "workdays":
      return kind.isRest ? 0 : 2;
    case "restdays":
      return kind.isRest ? 2 : 0;
    case "holidays":
      return kind.isHoliday ? 4 : 0;
  }
}

type Coat = Readonly<{ start: number; end: number; level: HoursLevel | null; because: string }>;

/** Paints one local day: outside, then the tail of the day before, then the day's own spans in order. */
function paintDay(schedule: Schedule, before: number, own: number): readonly Stretch[] {
  const coats: Coat[] = [{ start: 0, end: DAY_MINUTES, level: schedule.outside, because: OUTSIDE }];
  const previous = schedule.rows[before];
  if (previous && previous.spans !== "off") {
    const because = dayKeyLabel(previous.day);
    for (const { end, level } of previous.spans)
      if (end > DAY_MINUTES) coats.push({ start: 0, end: end - DAY_MINUTES, level, because });
  }
  const row = schedule.rows[own];
  const because = row ? dayKeyLabel(row.day) : OUTSIDE;
  if (row?.spans === "off") coats.push({ start: 0, end: DAY_MINUTES, level: HOURS_OFF, because });
  else if (row)
    for (const { start, end, level } of row.spans) coats.push({ start, end: Math.min(end, DAY_MINUTES), level, because });
  return seenFromAbove(coats);
}

/** What is left to see of coats laid one over the other: stretches that tile the day, equal neighbours joined. */
function seenFromAbove(coats: readonly Coat[]): readonly Stretch[] {
  const edges = [...new Set(coats.flatMap(({ start, end }) => [start, end]))].sort((a, b) => a - b);
  const stretches: Stretch[] = [];
  for (let i = 0; i + 1 < edges.length; i++) {
    const [start, end] = [edges[i] as number, edges[i + 1] as number];
    const top = coats.findLast((coat) => coat.start <= start && start < coat.end) as Coat;
    const last = stretches.at(-1);
    if (last && last.level === top.level && last.because === top.because) stretches[stretches.length - 1] = { ...last, end };
    else stretches.push({ start, end, level: top.level, because: top.because });
  }
  return stretches;
}

/** Why a row does or does not speak for a local date, in words. */
export function whyRow(compiled: CompiledSchedule, row: Row, day: number): { applies: boolean; why: string } {
  const weekday = WEEKDAYS[weekdayIndex(day)] as (typeof WEEKDAYS)[number];
  const holiday = compiled.isHoliday(day);
  const date = formatDate(day);
  const say = (applies: boolean, why: string) => ({ applies, why });
  switch (row.day.kind) {
    case "dates": {
      const inside = day >= dayNumber(row.day.from) && day <= dayNumber(row.day.to);
      return say(inside, `${date} is ${inside ? "" : "not "}${row.day.from === row.day.to ? "that date" : "in that range"}`);
    }
    case "weekdays": {
      if (!row.day.days.includes(weekday)) return say(false, `${date} is a ${weekday}`);
      if (holiday && !row.onHolidays) return say(false, `${date} is a holiday, and the row does not say holidays: too`);
      return say(true, `${date} is a ${weekday}`);
    }
    case "class":
      switch (row.day.name) {
        case "daily":
          return say(true, "every day");
        case "workdays":
          return say(!compiled.isRest(day), `${date} is a ${compiled.isRest(day) ? "rest day" : "workday"}`);
        case "restdays":
          return say(compiled.isRest(day), `${date} is a ${compiled.isRest(day) ? "rest day" : "workday"}`);
        case "holidays":
          return say(holiday, `${date} is ${holiday ? "a" : "no"} holiday`);
      }
  }
}
