import { asLevel, type CompiledSchedule } from "../hours";
import type { CapabilitiesByAccount, FleetPlan } from "../plan";
import { hoursFinder, placesByName } from "../rounds";
import type { Selectable } from "../selector";
import type { HoursFollowed } from "./hours-use";
import type { PeopleUse } from "./idle-lever";
import type { HoursLever } from "./levers";
import type { Line } from "./line";

type Known = Readonly<{
  schedules: ReadonlyMap<string, CompiledSchedule>;
  capabilities: CapabilitiesByAccount;
  /** What people bring above the hours of a pool; null or missing where that is not known, or it is none. */
  people?: PeopleUse | null;
}>;

/** The hours of a plan for the resources it is laid on. Those that follow the same hours share one object. */
export function hoursLeverOf(
  plan: FleetPlan,
  resources: readonly Selectable[],
  { schedules, capabilities, people }: Known,
): HoursLever {
  const find = hoursFinder(schedules, capabilities);
  const known = new Map<CompiledSchedule, HoursFollowed>();
  const places = plan.pooled
    ? placesByName(resources.map(({ fields }, i) => ({ id: String(i), name: fields.name ?? "" })))
    : null;
  const followed = resources.map((resource, i): HoursFollowed | null => {
    const poolPlace = places?.get(String(i));
    const found = find(poolPlace === undefined ? resource : { ...resource, poolPlace }, plan);
    if (found.kind !== "schedule") return null;
    const own = known.get(found.compiled) ?? {
      schedule: found.compiled,
      leadMinutes: plan.lead,
      offAction: plan.offAction,
      starts: plan.starts,
    };
    known.set(found.compiled, own);
    return own;
  });
  return { kind: "hours", followed, ...(plan.pooled && people ? { people } : {}) };
}

/** Lines with what on means under a plan: it may name the size of its groups. */
export function sizedLines(lines: readonly Line[], { size }: Pick<FleetPlan, "size">): readonly Line[] {
  if (size === undefined) return lines;
  return lines.map((line) => (line.kind === "group" ? { ...line, ownSize: asLevel(size) } : line));
}
