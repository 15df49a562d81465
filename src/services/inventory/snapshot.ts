import { type Calendar, type CompiledSchedule, compileSchedule, type Schedule } from "@/core/hours";
import { type Capabilities, type CapabilitiesByAccount, type FleetPlan, isSchedulable, type Resource } from "@/core/plan";
import { claimer, withPlaces } from "@/core/rounds";
import {
  type Account,
  accountList,
  calendarList,
  type Fleet,
  fleetList,
  keptBeside,
  type LikelyUse,
  likelyUseList,
  resourceList,
  type StoredResource,
  scheduleList,
} from "@/store";
import type { Services } from "../admin";

/** What is stored of the clouds and the plans, as rounds and previews need it. */
export type Snapshot = Readonly<{
  accounts: readonly Account[];
  capabilities: CapabilitiesByAccount;
  resources: readonly StoredResource[];
  /** Those of them that have a level to set. */
  schedulable: readonly Resource[];
  fleets: readonly Fleet[];
  schedules: readonly Schedule[];
  calendars: readonly Calendar[];
  /** What was learned of the coming weeks of fleets, by name. */
  likely: ReadonlyMap<string, LikelyUse>;
}>;

export async function loadSnapshot({ pool }: Services): Promise<Snapshot> {
  const [accounts, resources, fleets, schedules, calendars, likely] = await Promise.all([
    accountList(pool),
    resourceList(pool),
    fleetList(pool),
    scheduleList(pool),
    calendarList(pool),
    likelyUseList(pool),
  ]);
  return {
    accounts,
    capabilities: capabilitiesByAccount(accounts),
    resources,
    schedulable: schedulableOf(resources),
    fleets,
    schedules,
    calendars,
    likely,
  };
}

/** The plans in force, in rank order. */
export function plansInForce({ fleets }: Pick<Snapshot, "fleets">): readonly FleetPlan[] {
  return fleets.flatMap(({ inForce }) => (inForce ? [inForce] : []));
}

/** Picked out once for a list that is kept between looks. */
function schedulableOf(resources: readonly StoredResource[]): readonly StoredResource[] {
  return keptBeside("schedulable", resources, { make: () => resources.filter(isSchedulable) });
}

/** The resources of each fleet in force, by its name: every resource belongs to the highest-ranked one that matches. */
export function resourcesByFleet({ fleets, schedulable }: Snapshot): Map<string, Resource[]> {
  const claim = claimer(plansInForce({ fleets }));
  const members = new Map<string, Resource[]>();
  for (const resource of withPlaces(schedulable, plansInForce({ fleets }))) {
    const fleet = claim(resource)?.name;
    if (fleet === undefined) continue;
    const list = members.get(fleet);
    if (list) list.push(resource);
    else members.set(fleet, [resource]);
  }
  return members;
}

/** The place of a machine in the pool that it belongs to; nothing where it belongs to none. */
export function placeIn(
  { resources, fleets }: Readonly<{ resources: readonly Resource[] }> & Pick<Snapshot, "fleets">,
  id: string,
): { poolPlace?: number } {
  const plans = plansInForce({ fleets });
  if (!plans.some(({ pooled }) => pooled)) return {};
  const poolPlace = withPlaces<Resource>(resources, plans).find((one) => one.id === id)?.poolPlace;
  return poolPlace === undefined ? {} : { poolPlace };
}

/** Every tag key there is, in order; read once for a list that is kept between looks. */
export function tagKeysOf(resources: readonly Readonly<{ tags: Readonly<Record<string, string>> }>[]): readonly string[] {
  return keptBeside("tag keys", resources, {
    make: () => {
      const keys = new Set<string>();
      for (const { tags } of resources) for (const key in tags) keys.add(key);
      return [...keys].sort();
    },
  });
}

/** What the accounts' providers say of themselves, by account. What says the same is the same object: rates are made once for all that share it. */
export function capabilitiesByAccount(accounts: readonly Account[]): CapabilitiesByAccount {
  const said = new Map<string, Capabilities>();
  return new Map(
    accounts.flatMap(({ name, capabilities }) => {
      if (!capabilities) return [];
      const text = JSON.stringify(capabilities);
      const own = said.get(text) ?? capabilities;
      said.set(text, own);
      return [[name, own] as const];
    }),
  );
}

/** One answer for each provider, for what is entered by a provider's name: regions, zones and the currency are its own. */
export function byProvider({ capabilities }: Pick<Snapshot, "capabilities">): ReadonlyMap<string, Capabilities> {
  return new Map([...capabilities.values()].map((own) => [own.provider, own]));
}

/** The currency everything is told in; providers are read in one. */
export function currencyOf({ capabilities }: Pick<Snapshot, "capabilities">): string {
  return [...capabilities.values()][0]?.currency ?? "EUR";
}

/** Schedules ready for asking, by name. One whose calendar is missing is left out rather than guessed at. */
export function compileAll(schedules: readonly Schedule[], calendars: readonly Calendar[]): Map<string, CompiledSchedule> {
  const byName = new Map(calendars.map((calendar) => [calendar.name, calendar]));
  const compiled = new Map<string, CompiledSchedule>();
  for (const schedule of schedules) {
    const calendar = schedule.calendar === undefined ? undefined : byName.get(schedule.calendar);
    if (schedule.calendar !== undefined && !calendar) continue;
    compiled.set(schedule.name, compileSchedule(schedule, calendar));
  }
  return compiled;
}
