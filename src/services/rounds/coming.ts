import { type CompiledSchedule, compileSchedule, type Edge, nextEdges } from "@/core/hours";
import type { FleetPlan, Resource } from "@/core/plan";
import { fellReader, type HoursOf, hoursFinder, isTooManyUnforeseen, OVERRIDES, type Override, STOOD_S } from "@/core/rounds";
import { DAY_S, type Instant, MINUTE_S } from "@/core/time";
import { approvedStops, overridesBetween } from "@/store";
import { type Actor, authorise, ESTATE, type Services, visibleTo } from "../admin";
import { compileAll, plansInForce, resourcesByFleet, type Snapshot, snapshotFor, withPlansAt } from "../inventory";

/** When a level of a fleet in force changes, of how many machines, and what stands in its way. */
export type ComingEdge = Readonly<{
  at: Instant;
  fleet: string;
  fleetId: number;
  to: number | null;
  /** The row of the hours that says so: a weekday, a holiday, a date. */
  because: string;
  zone: string;
  machines: number;
  /** Of them, by holds that are in effect then. */
  held: number;
  /** It does not come: a holiday takes its place. */
  fallsAway: boolean;
  /** Of stops, those that nobody could foresee by then, where they are so many that they would be held. */
  unforeseen: number;
}>;

const DAYS = 7;
/** Enough to see the next edge of any fleet: edges of one schedule over a week are fewer. */
const OF_ONE_MAX = 200;

export type ComingOptions = Readonly<{ limit?: number; at?: Instant | null; days?: number }>;

/** When the levels of the fleets in force change over the coming days, from now or from another instant on, soonest first. */
export async function comingEdges(
  services: Services,
  actor: Actor,
  { limit = Number.POSITIVE_INFINITY, at: asked = null, days = DAYS }: ComingOptions = {},
): Promise<ComingEdge[]> {
  authorise(actor, "look", ESTATE);
  const { at: now, ...snapshot } = await snapshotFor(services, actor, asked);
  const to = now + days * DAY_S;
  const [holds, approved] = await Promise.all([
    overridesBetween(services.pool, { from: now, to }),
    approvedStops(services.pool, now),
  ]);
  const find = hoursFinder(compileAll(snapshot.schedules, snapshot.calendars), snapshot.capabilities);
  const members = resourcesByFleet(snapshot);
  const running = [...members.values()].flat().filter(({ level }) => level > 0).length;
  const withoutHolidays = holidayless(snapshot);
  const edges: (ComingEdge & { resources: readonly Resource[] })[] = [];
  const visible = visibleTo(actor);
  for (const { id, inForce, name } of snapshot.fleets) {
    if (!inForce || inForce.hours === undefined || !(visible.fleet({ id, name }) || members.has(name))) continue;
    // A pool's hours give counts: one edge for all of it, not one for each machine's place.
    const followed = { ...inForce, pooled: undefined };
    for (const [hours, resources] of byHours(members.get(name) ?? [], (resource) => find(resource, followed))) {
      for (const edge of edgesOf(hours, { plain: withoutHolidays.get(hours), now, to, leadS: inForce.lead * MINUTE_S })) {
        const { at, to: level, because, fallsAway } = edge;
        const held = resources.filter((resource) => isHeld(resource, inForce, { holds, at })).length;
        const { zone } = hours.schedule;
        const common = {
          at,
          fleet: name,
          fleetId: id,
          to: level,
          because,
          zone,
          machines: resources.length,
          held,
          fallsAway,
          unforeseen: 0,
        };
        edges.push({ ...common, resources });
      }
    }
  }
  edges.sort((a, b) => a.at - b.at || a.fleet.localeCompare(b.fleet));
  const shown = edges.slice(0, limit);
  const unforeseen = await unforeseenOf(services, { snapshot, now, edges: shown, approved });
  return shown.map(({ resources: _, ...edge }, i) => {
    const count = unforeseen[i] ?? 0;
    return { ...edge, unforeseen: isTooManyUnforeseen(count, running) ? count : 0 };
  });
}

/** The schedules of calendars with holidays, as they would be without. */
function holidayless({ calendars }: Snapshot): { get: (hours: CompiledSchedule) => CompiledSchedule | null } {
  const byName = new Map(calendars.map((calendar) => [calendar.name, calendar]));
  const made = new Map<CompiledSchedule, CompiledSchedule | null>();
  const without = ({ schedule }: CompiledSchedule) => {
    const calendar = schedule.calendar === undefined ? undefined : byName.get(schedule.calendar);
    return calendar && calendar.holidays.length > 0 ? compileSchedule(schedule, { ...calendar, holidays: [] }) : null;
  };
  return {
    get(hours) {
      const known = made.get(hours);
      if (known !== undefined) return known;
      const plain = without(hours);
      made.set(hours, plain);
      return plain;
    },
  };
}

type Window = Readonly<{ plain: CompiledSchedule | null; now: Instant; to: Instant; leadS: number }>;

/** The edges up to an instant, with those that a holiday takes away. */
function edgesOf(hours: CompiledSchedule, { plain, now, to, leadS }: Window): (Edge & { fallsAway: boolean })[] {
  const within = (of: CompiledSchedule) => nextEdges(of, { t: now, count: OF_ONE_MAX, leadS }).filter(({ at }) => at <= to);
  const own = within(hours);
  const comes = new Set(own.map(({ at, to: level }) => `${at} ${level}`));
  const lost = plain ? within(plain).filter(({ at, to: level }) => !comes.has(`${at} ${level}`)) : [];
  return [...own.map((edge) => ({ ...edge, fallsAway: false })), ...lost.map((edge) => ({ ...edge, fallsAway: true }))];
}

function isHeld({ id }: Resource, { name }: FleetPlan, { holds, at }: { holds: readonly Override[]; at: Instant }): boolean {
  return holds.some(
    (hold) => OVERRIDES[hold.kind].isListed && hold.from <= at && at < hold.to && (hold.resourceId === id || hold.fleet === name),
  );
}

type Young = Readonly<{
  snapshot: Snapshot;
  now: Instant;
  edges: readonly (ComingEdge & { resources: readonly Resource[] })[];
  approved: ReadonlySet<string>;
}>;

/** Of the stops within the hour, those that the rules of an hour before them did not ask for. Later ones will have stood long enough. */
async function unforeseenOf({ pool }: Services, { snapshot, now, edges, approved }: Young): Promise<number[]> {
  const counts: number[] = [];
  for (const { at, to, resources, fallsAway } of edges) {
    if (to !== 0 || fallsAway || at - STOOD_S >= now) {
      counts.push(0);
      continue;
    }
    const then = await withPlansAt(pool, snapshot, at - STOOD_S);
    const fell = fellReader({
      asOf: at - STOOD_S,
      fleets: plansInForce(then),
      schedules: compileAll(then.schedules, then.calendars),
      capabilities: snapshot.capabilities,
      from: at - 1,
      to: at,
    });
    counts.push(resources.filter((resource) => resource.level > 0 && !approved.has(resource.id) && !fell(resource)).length);
  }
  return counts;
}

function byHours(resources: readonly Resource[], find: (resource: Resource) => HoursOf): Map<CompiledSchedule, Resource[]> {
  const groups = new Map<CompiledSchedule, Resource[]>();
  for (const resource of resources) {
    const found = find(resource);
    if (found.kind !== "schedule") continue;
    const known = groups.get(found.compiled);
    if (known) known.push(resource);
    else groups.set(found.compiled, [resource]);
  }
  return groups;
}
