export { type Holiday, type HolidaysResult, ICS_MAX, readHolidays, type Skipped } from "./read";
export { scheduleToIcs } from "./write";
