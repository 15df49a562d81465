import ICAL from "ical.js";
import rrule from "rrule";
import { DAY_S, dayNumber, formatDate, isZone, localTime, resolveLocal, tryParseDate } from "../time";
import { tidied } from "./tidy";

const { RRule } = rrule;

/** Characters; a calendar of holidays for many years has some ten thousand. */
export const ICS_MAX = 1_000_000;
const EVENTS_MAX = 5000;
const DAYS_MAX = 5000;
const FREQUENCIES = ["YEARLY", "MONTHLY", "WEEKLY", "DAILY"];

export type Holiday = Readonly<{ date: string; name: string }>;
export type Skipped = Readonly<{ line: number; name: string; why: string }>;
export type HolidaysResult =
  | Readonly<{ ok: true; holidays: readonly Holiday[]; skipped: readonly Skipped[] }>
  | Readonly<{ ok: false; line: number; message: string }>;

export type HolidaysSpan = Readonly<{ zone: string; from: string; to: string }>;

/**
 * The holidays in an iCalendar text (RFC 5545): every local date of `zone`, from `from` to `to`
 * inclusive, that an event covers whole, recurrences and exceptions counted. Events that cover no
 * whole day, are cancelled or cannot be read, and odd lines, are named in `skipped`. Lines count from 1.
 */
export function readHolidays(text: string, span: HolidaysSpan): HolidaysResult {
  if (text.length > ICS_MAX) {
    const size = (text.length / 1e6).toFixed(1);
    return {
      ok: false,
      line: 1,
      message: `the file has ${size} million characters; a calendar of holidays has at most 1 million`,
    };
  }
  const lines = eventLines(text);
  const { text: tidy, odd } = tidied(text);
  if (lines.length > EVENTS_MAX) {
    return {
      ok: false,
      line: lines[EVENTS_MAX] as number,
      message: `more than ${EVENTS_MAX} events: that is no calendar of holidays`,
    };
  }
  let events: ICAL.Component[];
  try {
    events = calendarsOf(ICAL.parse(tidy)).flatMap((calendar) => calendar.getAllSubcomponents("vevent"));
  } catch (error) {
    return { ok: false, line: 1, message: `not a calendar file: ${error instanceof Error ? error.message : String(error)}` };
  }
  const [nonsense] = odd;
  if (events.length === 0 && nonsense) return { ok: false, line: nonsense.line, message: `not a calendar file: ${nonsense.why}` };
  if (events.length === 0)
    return { ok: false, line: 1, message: "there is no event in it: expected a calendar file (.ics) with holidays" };
  const days = new Map<string, string>();
  const skipped: Skipped[] = [...odd];
  const wrong: Skipped[] = [];
  const overrides = overriddenStarts(events);
  for (const [i, event] of events.entries()) {
    const line = lines[i] ?? 1;
    const name = String(event.getFirstPropertyValue("summary") ?? "");
    const skip = (why: string) => skipped.push({ line, name, why });
    try {
      if (String(event.getFirstPropertyValue("status") ?? "").toUpperCase() === "CANCELLED") {
        skip("it is cancelled");
        continue;
      }
      const dates = datesOf(event, span, overrides);
      if (dates === null) skip("it covers no whole day");
      for (const date of dates ?? []) days.set(date, name);
    } catch (error) {
      wrong.push({ line, name, why: error instanceof Error ? error.message : String(error) });
    }
    if (days.size > DAYS_MAX) return { ok: false, line, message: `more than ${DAYS_MAX} days: that is no calendar of holidays` };
  }
  // One that cannot be read leaves the others; a file of nothing else says what is wrong with it.
  const [first] = wrong;
  if (first && days.size === 0 && wrong.length === events.length)
    return { ok: false, line: first.line, message: `${first.name || "an event"}: ${first.why}` };
  skipped.push(...wrong);
  const holidays = [...days].map(([date, name]) => ({ date, name })).sort((a, b) => (a.date < b.date ? -1 : 1));
  return { ok: true, holidays, skipped };
}

/** One component each; the types leave out that a file may hold several calendars. */
function calendarsOf(parsed: unknown): ICAL.Component[] {
  const isOne = Array.isArray(parsed) && typeof parsed[0] === "string";
  return (isOne ? [parsed] : (parsed as unknown[])).map(
    (part) => new ICAL.Component(part as ConstructorParameters<typeof ICAL.Component>[0]),
  );
}

function eventLines(text: string): number[] {
  return text.split(/\r?\n/).flatMap((line, i) => (/^BEGIN:VEVENT\s*$/i.test(line) ? [i + 1] : []));
}

/** The starts, by UID, that an event of its own (RECURRENCE-ID) takes the place of. */
function overriddenStarts(events: readonly ICAL.Component[]): ReadonlySet<string> {
  return new Set(
    events.flatMap((event) => {
      const id = event.getFirstPropertyValue("recurrence-id");
      return id ? [`${event.getFirstPropertyValue("uid")} ${String(id).slice(0, 10)}`] : [];
    }),
  );
}

/** The whole local dates an event covers in the span; null where even its first occurrence covers none. */
function datesOf(event: ICAL.Component, { zone, from, to }: HolidaysSpan, overrides: ReadonlySet<string>): string[] | null {
  const start = event.getFirstPropertyValue("dtstart") as ICAL.Time | null;
  if (!start) throw new Error("it has no DTSTART");
  refuseImpossible(event);
  const tzid = event.getFirstProperty("dtstart")?.getFirstParameter("tzid");
  const startLocal = wallOf(start);
  const length = lengthOf(event, start, startLocal);
  const whole = wholeDays(startLocal, { length, start, tzid, zone });
  if (whole === null) return null;
  const dates: string[] = [];
  for (const day of startDays(event, startLocal.day, { from: dayNumber(from) - whole.count - 2, to: dayNumber(to) + 2 })) {
    const isOverridden =
      !event.getFirstPropertyValue("recurrence-id") && overrides.has(`${event.getFirstPropertyValue("uid")} ${formatDate(day)}`);
    if (isOverridden) continue;
    const shifted = wholeDays({ day, second: startLocal.second }, { length, start, tzid, zone });
    for (let i = 0; i < (shifted?.count ?? 0); i++) {
      const date = formatDate((shifted?.first ?? 0) + i);
      if (date >= from && date <= to) dates.push(date);
    }
  }
  return dates;
}

const DATED = ["dtstart", "dtend", "rdate", "exdate", "recurrence-id"];

/** A date that no calendar has would be taken for one some days later. */
function refuseImpossible(event: ICAL.Component): void {
  for (const name of DATED)
    for (const property of event.getAllProperties(name))
      for (const value of (property.toJSON() as unknown[]).slice(3)) {
        const date = /^\d{4}-\d{2}-\d{2}/.exec(String(value))?.[0];
        if (date !== undefined && tryParseDate(date) === null) throw new Error(`${date} is no date`);
      }
}

type Wall = Readonly<{ day: number; second: number }>;

function wallOf(time: ICAL.Time): Wall {
  const day = tryParseDate(
    `${String(time.year).padStart(4, "0")}-${String(time.month).padStart(2, "0")}-${String(time.day).padStart(2, "0")}`,
  );
  if (day === null || time.year < 1900 || time.year > 2200) throw new Error(`${time} is not a date between 1900 and 2200`);
  return { day, second: time.isDate ? 0 : time.hour * 3600 + time.minute * 60 + time.second };
}

/** Seconds of wall clock from its start to its end; a day where a date has neither end nor duration. */
function lengthOf(event: ICAL.Component, start: ICAL.Time, startLocal: Wall): number {
  const end = event.getFirstPropertyValue("dtend") as ICAL.Time | null;
  const duration = event.getFirstPropertyValue("duration") as ICAL.Duration | null;
  if (!end) return duration ? duration.toSeconds() : start.isDate ? DAY_S : 0;
  const { day, second } = wallOf(end);
  const length = (day - startLocal.day) * DAY_S + second - startLocal.second;
  if (length < 0) throw new Error("it ends before it starts");
  // Some write the day itself as the end of a whole day.
  if (length === 0 && start.isDate) return DAY_S;
  if (length > 370 * DAY_S) throw new Error("it lasts longer than a year");
  return length;
}

type Lasting = Readonly<{ length: number; start: ICAL.Time; tzid: unknown; zone: string }>;

/** The first local date in `zone` that is covered from midnight to midnight, and how many follow. */
function wholeDays({ day, second }: Wall, { length, start, tzid, zone }: Lasting): { first: number; count: number } | null {
  const begins = { day, second };
  const ends = { day: day + Math.floor((second + length) / DAY_S), second: (second + length) % DAY_S };
  const isElsewhere =
    !start.isDate && (start.zone?.tzid === "UTC" || (typeof tzid === "string" && isZone(tzid) && tzid !== zone));
  const own = start.zone?.tzid === "UTC" ? "UTC" : String(tzid);
  const here = (wall: Wall): Wall => (isElsewhere ? localTime(zone, resolveLocal(own, wall.day, wall.second)) : wall);
  const [from, to] = [here(begins), here(ends)];
  const first = from.second === 0 ? from.day : from.day + 1;
  const count = to.day - first;
  return count > 0 ? { first, count } : null;
}

/** The local dates on which an event begins within `[from, to]`: its own, RDATE and RRULE, less EXDATE. */
function startDays(event: ICAL.Component, first: number, { from, to }: { from: number; to: number }): number[] {
  const listed = (name: string) =>
    event.getAllProperties(name).flatMap((property) => property.getValues().map((value) => wallOf(value as ICAL.Time).day));
  const days = new Set([first, ...listed("rdate")]);
  for (const rule of event.getAllProperties("rrule")) {
    const text = String(rule.getFirstValue());
    const frequency = /FREQ=([A-Z]+)/.exec(text)?.[1] ?? "";
    if (!FREQUENCIES.includes(frequency))
      throw new Error(`it comes back ${frequency.toLowerCase()}: holidays come back by the day at most`);
    if (event.getFirstPropertyValue("recurrence-id"))
      throw new Error("an exception to a recurrence cannot have a recurrence of its own");
    const options = RRule.parseString(text);
    // A rule without an end, or one that never comes true, is followed no further than asked.
    const horizon = new Date((to + 1) * DAY_S * 1000);
    const until = options.until && options.until < horizon ? options.until : horizon;
    const { tzid: _, ...own } = options;
    const expanded = new RRule({ ...own, until, dtstart: new Date(first * DAY_S * 1000) });
    for (const date of expanded.between(new Date(from * DAY_S * 1000), horizon, true)) days.add(date.getTime() / 1000 / DAY_S);
  }
  for (const excepted of listed("exdate")) days.delete(excepted);
  return [...days].map(Math.floor).filter((day) => day >= from && day <= to);
}
