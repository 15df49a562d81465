import type { CompiledSchedule } from "../hours";
import { type FleetPlan, isGuarded, type Resource } from "../plan";
import type { Instant } from "../time";
import { type Due, dueAt, type Hold, type HoursNow, type HoursSource, hoursAt, hoursSource } from "./due";

export type DueReaderInput = Readonly<{
  now: Instant;
  schedules: ReadonlyMap<string, CompiledSchedule>;
  holds: readonly Hold[];
  trips: ReadonlyMap<string, Instant>;
}>;

/**
 * Says what is due for many resources at one instant. Each schedule is asked once per fleet's lead;
 * resources of a fleet that nothing but its hours speaks for share one answer.
 */
export function dueReader({ now, schedules, holds, trips }: DueReaderInput): (resource: Resource, fleet: FleetPlan) => Due {
  const hours = new Map<string, HoursNow>();
  const shared = new Map<FleetPlan, Map<string, Due>>();
  const heldResources = new Set(holds.map(({ resourceId }) => resourceId));
  const heldFleets = new Set(holds.map(({ fleet }) => fleet));

  const hoursOf = (name: string, lead: number): HoursNow => {
    const key = `${lead} ${name}`;
    const answer = hours.get(key) ?? hoursAt(schedules.get(name) as CompiledSchedule, now, lead);
    hours.set(key, answer);
    return answer;
  };
  const sourceOf = (resource: Resource, fleet: FleetPlan): HoursSource =>
    hoursSource(resource, fleet, { known: schedules, at: (name) => hoursOf(name, fleet.lead) });

  return (resource, fleet) => {
    const trippedAt = trips.get(resource.id) ?? null;
    const isAlone = trippedAt !== null || isGuarded(resource) || heldResources.has(resource.id) || heldFleets.has(fleet.name);
    const ask = () => dueAt(resource, { now, fleet, holds, trippedAt, hours: sourceOf(resource, fleet) });
    if (isAlone) return ask();
    const answers = shared.get(fleet) ?? new Map<string, Due>();
    shared.set(fleet, answers);
    // A fleet whose hours come from a tag has an answer for each value of it.
    const key =
      fleet.hours === undefined || typeof fleet.hours === "string" ? "" : `=${resource.tags[fleet.hours.fromTag] ?? ""}`;
    const due = answers.get(key) ?? ask();
    answers.set(key, due);
    return due;
  };
}
