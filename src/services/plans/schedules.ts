import { isLocal, livedIn, nextEdges, printLine, type Schedule } from "@/core/hours";
import { scheduleToIcs } from "@/core/ics";
import { matcher, tryParseSelector } from "@/core/selector";
import { DAY_S, formatInstant, type Instant, isZone } from "@/core/time";
import { type Fleet, inTransaction, removeScheduleNamed, signal } from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { compileAll, loadSnapshot, type Snapshot } from "../inventory";
import { type Follower, followersBySchedule } from "../rounds";

export type ScheduleSummary = Readonly<{
  name: string;
  zone: string;
  calendar: string | null;
  /** Its hours as one line; null where no line can say them, with the row that is the reason. */
  line: string | null;
  whyNoLine: string;
  followers: readonly Follower[];
  /** Fleets that only name it in a draft. */
  drafts: readonly string[];
  next: Readonly<{ at: Instant; to: number | null }> | null;
}>;

export type Schedules = Readonly<{ now: Instant; schedules: readonly ScheduleSummary[] }>;

/** Every schedule with its line, where it is used and when it changes next. */
export async function scheduleSummaries(services: Services, actor: Actor): Promise<Schedules> {
  authorise(actor, "look", ESTATE);
  const [{ now }, snapshot] = await Promise.all([services.clock.read(), loadSnapshot(services)]);
  const compiled = compileAll(snapshot.schedules, snapshot.calendars);
  const followers = followersBySchedule(snapshot);
  const schedules = snapshot.schedules.map((schedule): ScheduleSummary => {
    const calendar = snapshot.calendars.find(({ name }) => name === schedule.calendar);
    const printed = printLine(schedule, calendar);
    const hours = compiled.get(schedule.name);
    const next = hours && !isLocal(hours) ? nextEdges(hours, { t: now, count: 1 })[0] : undefined;
    return {
      name: schedule.name,
      zone: schedule.zone,
      calendar: schedule.calendar ?? null,
      line: printed.ok ? printed.line : null,
      whyNoLine: printed.ok ? "" : printed.row === null ? printed.why : `${printed.label}: ${printed.why}`,
      followers: followers.get(schedule.name) ?? [],
      drafts: namedInDrafts(snapshot, schedule),
      next: next ? { at: next.at, to: next.to } : null,
    };
  });
  return { now, schedules };
}

/** Fleets that are not in force with a schedule and whose draft names it, itself or by a tag of their machines. */
function namedInDrafts({ fleets, schedulable }: Snapshot, { name }: Schedule): string[] {
  const isDrafted = ({ draft, inForce }: Fleet): boolean => {
    const { hours, select } = draft;
    if (hours === null || JSON.stringify(inForce?.hours) === JSON.stringify(hours)) return false;
    if (typeof hours === "string") return hours === name;
    const parsed = tryParseSelector(select);
    return (
      parsed.ok && schedulable.some((resource) => resource.tags[hours.fromTag] === name && matcher(parsed.selector)(resource))
    );
  };
  return fleets.filter(isDrafted).map((fleet) => fleet.name);
}

/** Takes away a schedule that no plan, draft or machine uses. */
export async function removeSchedule(services: Services, actor: Actor, name: string): Promise<void> {
  authorise(actor, "edit plans", ESTATE);
  const snapshot = await loadSnapshot(services);
  const schedule = snapshot.schedules.find((stored) => stored.name === name);
  const users = [
    ...(schedule ? namedInDrafts(snapshot, schedule) : []),
    ...snapshot.fleets.filter(({ inForce }) => inForce?.hours === name).map((fleet) => fleet.name),
    ...(followersBySchedule(snapshot).get(name) ?? []).map(({ fleet }) => fleet),
  ];
  if (users.length > 0) throw new RefusedError("invalid", `${[...new Set(users)].join(", ")} still use it. Nothing was removed.`);
  const { now } = await services.clock.read();
  const isRemoved = await inTransaction(services.pool, (tx) => removeScheduleNamed(tx, name, { at: now, person: actor.name }));
  if (!isRemoved) throw new RefusedError("not_found", `There is no schedule ${name}.`);
  await signal(services.pool, "fleets");
}

const DAYS_BACK = 90;
const DAYS_AHEAD = 3 * 366;

/** A schedule as calendar text, in a zone where it has none of its own, from three months back to three years on: calendar programs fetch it again and again. */
export async function scheduleIcs(
  services: Services,
  actor: Actor,
  { name, zone }: { name: string; zone: string | null },
): Promise<string> {
  authorise(actor, "look", ESTATE);
  const [{ now }, snapshot] = await Promise.all([services.clock.read(), loadSnapshot(services)]);
  const stored = compileAll(snapshot.schedules, snapshot.calendars).get(name);
  if (stored && isLocal(stored) && (zone === null || !isZone(zone)))
    throw new RefusedError(
      "invalid",
      `${name} is lived in each machine's own zone. Say in which it is wanted: ?zone=Europe/Oslo.`,
    );
  const compiled = stored && livedIn(stored, zone ?? "");
  if (!compiled) throw new RefusedError("not_found", `There is no schedule ${name} as of ${formatInstant(now)}.`);
  const midnight = Math.floor(now / DAY_S) * DAY_S;
  return scheduleToIcs(compiled, { from: midnight - DAYS_BACK * DAY_S, to: midnight + DAYS_AHEAD * DAY_S, stamp: now });
}
