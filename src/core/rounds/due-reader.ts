import type { CompiledSchedule, Level } from "../hours";
import { type Capabilities, type FleetPlan, isGuarded, type Resource } from "../plan";
import type { Instant } from "../time";
import { type Due, dueAt, type Hold, type HoursNow, type HoursSource, hoursAt } from "./due";
import { type HoursOf, hoursFinder } from "./hours-of";
import { ownSizeOf } from "./own-size";

export type DueReaderInput = Readonly<{
  now: Instant;
  schedules: ReadonlyMap<string, CompiledSchedule>;
  capabilities: ReadonlyMap<string, Capabilities>;
  holds: readonly Hold[];
}>;

/**
 * Says what is due for many resources at one instant. Each schedule is asked once per lead;
 * resources of a fleet that nothing but its hours speaks for share one answer. Hours that are known
 * already need not be found again.
 */
export function dueReader(input: DueReaderInput): (resource: Resource, fleet: FleetPlan, known?: HoursOf) => Due {
  const { now, schedules, capabilities, holds } = input;
  const find = hoursFinder(schedules, capabilities);
  const asked = new Map<CompiledSchedule, Map<string, HoursNow>>();
  const shared = new Map<FleetPlan, Map<HoursOf, Due>>();
  // By what they are on: an office that has emptied has as many trips as desks.
  const onResource = groupedBy(holds, ({ resourceId }) => resourceId);
  const onFleet = groupedBy(holds, ({ resourceId, fleet }) => (resourceId === null ? fleet : null));

  const sourceOf = (found: HoursOf, leadMinutes: number, ownSize: Level): HoursSource => {
    if (found.kind !== "schedule") return found;
    const byKey = asked.get(found.compiled) ?? new Map<string, HoursNow>();
    asked.set(found.compiled, byKey);
    const key = `${leadMinutes} ${ownSize}`;
    const answer = byKey.get(key) ?? hoursAt(found.compiled, now, { leadMinutes, ownSize });
    byKey.set(key, answer);
    return { kind: "schedule", now: answer };
  };

  return (resource, fleet, known) => {
    const found = known ?? find(resource, fleet);
    const ownSize = ownSizeOf(resource, fleet);
    const isAlone = ownSize !== 1 || isGuarded(resource) || onResource.has(resource.id) || onFleet.has(fleet.name);
    const own = isAlone ? [...(onResource.get(resource.id) ?? []), ...(onFleet.get(fleet.name) ?? [])] : [];
    const ask = () => dueAt(resource, { now, fleet, holds: own, hours: sourceOf(found, fleet.lead, ownSize) });
    if (isAlone) return ask();
    const answers = shared.get(fleet) ?? new Map<HoursOf, Due>();
    shared.set(fleet, answers);
    const due = answers.get(found) ?? ask();
    answers.set(found, due);
    return due;
  };
}

/** Holds by what they are on; those that are on nothing of the kind are left out. */
function groupedBy(holds: readonly Hold[], keyOf: (hold: Hold) => string | null): ReadonlyMap<string, readonly Hold[]> {
  const groups = new Map<string, Hold[]>();
  for (const hold of holds) {
    const key = keyOf(hold);
    if (key === null) continue;
    const own = groups.get(key);
    if (own) own.push(hold);
    else groups.set(key, [hold]);
  }
  return groups;
}
