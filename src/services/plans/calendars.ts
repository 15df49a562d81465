import { type Calendar, calendarSchema, LOCAL } from "@/core/hours";
import { type HolidaysResult, readHolidays } from "@/core/ics";
import { formatDate, localTime } from "@/core/time";
import {
  inTransaction,
  maybeCalendar,
  removeCalendarAt,
  type StoredCalendar,
  scheduleList,
  signal,
  storedCalendarList,
  writeCalendar,
} from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { loadSnapshot, regionZones } from "../inventory";
import { confirmStops, type Follower, followersBySchedule, type Impact, impactOf } from "../rounds";
import { asPreviewed, type Unchanged } from "./as-previewed";

export type CalendarSummary = Readonly<{
  name: string;
  rest: readonly string[];
  holidays: number;
  schedules: readonly string[];
  machines: number;
}>;

/** Every calendar with where it is used. */
export async function calendarSummaries(services: Services, actor: Actor): Promise<CalendarSummary[]> {
  authorise(actor, "look", ESTATE);
  const [snapshot, calendars] = await Promise.all([loadSnapshot(services), storedCalendarList(services.pool)]);
  const followers = followersBySchedule(snapshot);
  return calendars.map(({ calendar: { name, rest, holidays } }) => {
    const schedules = snapshot.schedules.filter(({ calendar }) => calendar === name).map((schedule) => schedule.name);
    const machines = schedules.flatMap((schedule) => followers.get(schedule) ?? []).reduce((sum, one) => sum + one.machines, 0);
    return { name, rest, holidays: holidays.length, schedules, machines };
  });
}

export type OpenCalendar = Readonly<{
  /** Null where it is new. */
  stored: StoredCalendar | null;
  schedules: readonly string[];
  followers: readonly Follower[];
  zones: readonly string[];
  /** The local date of the calendar's people, `YYYY-MM-DD`. */
  today: string;
  countries: readonly Country[];
}>;

/** One calendar to edit, or the beginnings of a new one. Throws a RefusedError where a named one does not exist. */
export async function openCalendar(services: Services, actor: Actor, name: string | null): Promise<OpenCalendar> {
  authorise(actor, "look", ESTATE);
  const [{ now }, snapshot, zones, countries] = await Promise.all([
    services.clock.read(),
    loadSnapshot(services),
    regionZones(services, actor),
    countryList(),
  ]);
  const stored = name === null ? null : await maybeCalendar(services.pool, name);
  if (name !== null && !stored) throw new RefusedError("not_found", `There is no calendar ${name}.`);
  const users = snapshot.schedules.filter(({ calendar }) => calendar !== undefined && calendar === name);
  const followers = followersBySchedule(snapshot);
  // Hours without a zone of their own say nothing of where their calendar is lived.
  const own = users.flatMap(({ zone }) => (zone === LOCAL ? [] : [zone]));
  return {
    stored,
    schedules: users.map((schedule) => schedule.name),
    followers: users.flatMap((schedule) => followers.get(schedule.name) ?? []),
    zones: [...new Set([...own, ...zones])],
    today: formatDate(localTime(own[0] ?? "UTC", now).day),
    countries,
  };
}

/** What a changed calendar would do: which fleets follow it and what the next round would stop or start. */
export async function previewCalendar(services: Services, actor: Actor, calendar: Calendar): Promise<Impact> {
  authorise(actor, "look", ESTATE);
  const [{ now }, snapshot] = await Promise.all([services.clock.read(), loadSnapshot(services)]);
  return impactOf(services, { snapshot, change: { calendars: [calendar] }, now });
}

export type CalendarToSave = Readonly<{
  calendar: Calendar;
  dayNames: Readonly<Record<string, string>>;
  /** The version that was opened; 0 for a new calendar. */
  version: number;
  /** How many stops the person was told of. */
  confirmedStops: number;
}>;

/** Saves a calendar; schedules that use it go by it from the next round on. Returns its version. */
export async function saveCalendar(services: Services, actor: Actor, request: CalendarToSave): Promise<number> {
  authorise(actor, "put in force", ESTATE);
  const { calendar, version } = request;
  const saved = await asPreviewed(services.pool, (unchanged) => saveOnce(services, actor, { ...request, unchanged }));
  if (saved === null && version === 0) {
    throw new RefusedError("name_taken", "The calendar was not saved.", [
      { path: "name", message: `there is a calendar "${calendar.name}" already` },
    ]);
  }
  if (saved === null) {
    throw new RefusedError(
      "changed_since",
      "Somebody else changed this calendar since you opened it. Nothing was saved; reload to see theirs.",
    );
  }
  await signal(services.pool, "fleets");
  return saved;
}

/** The new version; null where another was there. */
async function saveOnce(
  services: Services,
  actor: Actor,
  { calendar, dayNames, version, confirmedStops, unchanged }: CalendarToSave & Unchanged,
): Promise<number | null> {
  const moves = await previewCalendar(services, actor, calendar);
  if (moves.stops.length > confirmedStops) {
    throw new RefusedError(
      "count_differs",
      `It would now stop ${moves.stops.length} machines, not ${confirmedStops}. Nothing was saved; look at the list again.`,
    );
  }
  return inTransaction(services.pool, async (tx) => {
    await unchanged(tx);
    const next = await writeCalendar(tx, { calendar, dayNames, version }, { at: moves.now, person: actor.name });
    if (next !== null && moves.stops.length > 0)
      await confirmStops(tx, { resourceIds: moves.stopIds, person: actor.name, at: moves.now });
    return next;
  });
}

/** Takes a calendar away that no schedule uses. */
export async function removeCalendar(services: Services, actor: Actor, name: string, version: number): Promise<void> {
  authorise(actor, "edit plans", ESTATE);
  const users = (await scheduleList(services.pool)).filter(({ calendar }) => calendar === name).map((schedule) => schedule.name);
  if (users.length > 0) throw new RefusedError("invalid", `${users.join(", ")} still use it. Nothing was removed.`);
  const { now } = await services.clock.read();
  const isRemoved = await inTransaction(services.pool, (tx) =>
    removeCalendarAt(tx, { name, version }, { at: now, person: actor.name }),
  );
  if (!isRemoved) throw new RefusedError("changed_since", "Somebody else changed this calendar just now. Nothing was removed.");
  await signal(services.pool, "fleets");
}

const YEARS_BACK = 1;
const YEARS_AHEAD = 5;

/** The holidays of an `.ics` text, from last year to five years on. Nothing is saved. */
export async function holidaysOfIcs(
  services: Services,
  actor: Actor,
  { text, zone }: { text: string; zone: string },
): Promise<HolidaysResult> {
  authorise(actor, "look", ESTATE);
  const { now } = await services.clock.read();
  const year = new Date(now * 1000).getUTCFullYear();
  return readHolidays(text, { zone, from: `${year - YEARS_BACK}-01-01`, to: `${year + YEARS_AHEAD}-12-31` });
}

export type Country = Readonly<{ code: string; name: string }>;

// The lists of all countries are large: they are read when somebody first asks for one.
async function holidayLists() {
  const { default: Holidays } = await import("date-holidays");
  return Holidays;
}

async function countryList(): Promise<Country[]> {
  const Holidays = await holidayLists();
  const names = Object.entries(new Holidays().getCountries("en"));
  return names.map(([code, name]) => ({ code, name })).sort((a, b) => a.name.localeCompare(b.name, "en"));
}

/** A country's public holidays from its list, this year and the five to come. Nothing is saved. */
export async function holidaysOfCountry(services: Services, actor: Actor, code: string): Promise<HolidaysResult> {
  authorise(actor, "look", ESTATE);
  const { now } = await services.clock.read();
  const Holidays = await holidayLists();
  const country = new Holidays();
  if (!(code in country.getCountries())) return { ok: false, line: 1, message: `there is no list for "${code}"` };
  country.init(code);
  country.setLanguages("en");
  const year = new Date(now * 1000).getUTCFullYear();
  const years = Array.from({ length: YEARS_AHEAD + 1 }, (_, i) => year + i);
  const days = years.flatMap((of) => country.getHolidays(of)).filter(({ type }) => type === "public");
  const holidays = days.flatMap(({ date, start, end, name }) => {
    // Rounded: the list gives instants, and a day may have 23 hours.
    const length = Math.max(1, Math.round((end.getTime() - start.getTime()) / 86_400_000));
    const first = Date.parse(`${date.slice(0, 10)}T00:00:00Z`) / 86_400_000;
    return Array.from({ length }, (_, i) => ({ date: formatDate(first + i), name }));
  });
  if (holidays.length === 0)
    return { ok: false, line: 1, message: "the list names no public holidays; a calendar file (.ics) of that country does it" };
  return { ok: true, holidays, skipped: [] };
}

export { calendarSchema, type HolidaysResult, type Impact, type StoredCalendar };
