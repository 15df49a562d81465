export { holidayDates, holidayRanges } from "./calendar-days";
export { type CompiledSchedule, compileSchedule, OUTSIDE, type Precedence, type Stretch } from "./compile";
export { offSpans, onDuring } from "./complement";
export { type Edge, nextEdges } from "./edges";
export { expand, expandSaid, type Interval, levelAt, type SaidInterval, saidAt } from "./expand";
export { type Considered, type Explanation, explain } from "./explain";
export { expandWithLead, withLead } from "./lead";
export { asCount, asLevel, HOURS_OFF, type HoursLevel, LEVEL_MAX, type Level, OFF, ON, sizedLevel } from "./level";
export { type LineError, type LineRowsResult, type PrintResult, printLine, readLine, readLineRows, suggestLine } from "./line";
export { isLocal, LOCAL, livedIn } from "./local";
export { paintedAt, paintSpans, tidySpans } from "./paint";
export {
  type Calendar,
  CLASS_KEYS,
  calendarSchema,
  type DayKey,
  dateRangeSchema,
  dayKeyLabel,
  nameSchema,
  PLAIN_CALENDAR,
  type Row,
  rowSchema,
  rowsToFile,
  type Schedule,
  scheduleSchema,
  scheduleToFile,
  zoneSchema,
} from "./schedule";
export { formatMinute, formatSpan, type Span, tryParseSpan } from "./span";
export { type Meaning, meaningsOf } from "./typed";
export { type ScheduleWarning, scheduleWarnings } from "./warn";
