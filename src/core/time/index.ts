export { type DayNumber, dayNumber, formatDate, tryParseDate, utcDate, WEEKDAYS, type Weekday, weekdayIndex } from "./date";
export {
  DAY_MINUTES,
  DAY_S,
  formatInstant,
  HOUR_S,
  type Instant,
  MINUTE_S,
  MONTH_HOURS,
  MONTH_S,
  tryParseInstant,
  WEEK_HOURS,
} from "./instant";
export {
  clockChanges,
  isZone,
  type LocalTime,
  localTime,
  offsetAt,
  offsetSegments,
  offsetText,
  repeatedOffset,
  resolveLocal,
  zoneNames,
} from "./zone";
