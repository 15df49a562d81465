import { type CompiledSchedule, HOURS_OFF, type Level, OFF, sizedLevel } from "../hours";
import type { FleetPlan, Resource } from "../plan";
import type { HoursOf } from "./hours-of";
import { ownSizeOf } from "./own-size";

/** A group or service that its hours never let run at what it has had. */
export type Lowered = Readonly<{ resource: Resource; had: Level; most: Level }>;

/** Those of the resources whose hours, at their highest, give fewer than each has had. */
export function loweredBelow(
  resources: readonly Resource[],
  { plan, hoursOf }: Readonly<{ plan: FleetPlan; hoursOf: (resource: Resource) => HoursOf }>,
): readonly Lowered[] {
  return resources.flatMap((resource): Lowered[] => {
    if (resource.kind !== "group" && resource.kind !== "service") return [];
    const hours = hoursOf(resource);
    if (hours.kind !== "schedule") return [];
    const most = highestOf(hours.compiled, ownSizeOf(resource, plan));
    const had = Math.max(resource.ownSize, resource.level) as Level;
    return most === 0 || most >= had ? [] : [{ resource, had, most }];
  });
}

/** The highest level that a schedule gives a resource of a size; 0 where it only ever turns it off. */
function highestOf({ schedule: { rows, outside } }: CompiledSchedule, ownSize: Level): Level {
  const levels = rows.flatMap(({ spans }) => (spans === "off" ? [] : spans.map(({ level }) => level)));
  return [outside ?? HOURS_OFF, ...levels]
    .map((level) => sizedLevel(level, ownSize))
    .reduce((most, level) => Math.max(most, level) as Level, OFF);
}
