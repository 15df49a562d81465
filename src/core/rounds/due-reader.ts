import type { CompiledSchedule, Level } from "../hours";
import { type CapabilitiesByAccount, type FleetPlan, isGuarded, type Resource } from "../plan";
import type { Instant } from "../time";
import { type Due, dueAt, type HoursNow, type HoursSource, hoursAt } from "./due";
import { type HoursOf, hoursFinder } from "./hours-of";
import type { Override } from "./override";
import { overridesOn } from "./overrides-on";
import { ownSizeOf } from "./own-size";

export type DueReaderInput = Readonly<{
  now: Instant;
  schedules: ReadonlyMap<string, CompiledSchedule>;
  capabilities: CapabilitiesByAccount;
  overrides: readonly Override[];
}>;

/**
 * Says what is due for many resources at one instant. Each schedule is asked once per lead;
 * resources of a fleet that nothing but its hours speaks for share one answer. Hours that are known
 * already need not be found again.
 */
export function dueReader(input: DueReaderInput): (resource: Resource, fleet: FleetPlan, known?: HoursOf) => Due {
  const { now, schedules, capabilities, overrides: holds } = input;
  const find = hoursFinder(schedules, capabilities);
  const asked = new Map<CompiledSchedule, Map<string, HoursNow>>();
  const shared = new Map<FleetPlan, Map<HoursOf, Due>>();
  // By what they are on: an office that has emptied has as many trips as desks.
  const onIt = overridesOn(holds);

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
    const own = onIt(resource.id, fleet.name);
    const isAlone = ownSize !== 1 || isGuarded(resource) || own.length > 0;
    const ask = () => dueAt(resource, { now, fleet, overrides: own, hours: sourceOf(found, fleet.lead, ownSize) });
    if (isAlone) return ask();
    const answers = shared.get(fleet) ?? new Map<HoursOf, Due>();
    shared.set(fleet, answers);
    const due = answers.get(found) ?? ask();
    answers.set(found, due);
    return due;
  };
}
