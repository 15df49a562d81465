import { type CompiledSchedule, expandWithLead, type Level } from "../hours";
import { type CapabilitiesByAccount, type FleetPlan, isGuarded, listedAt, type Resource } from "../plan";
import { DAY_S, type Instant, MINUTE_S } from "../time";
import { claimer } from "./claim";
import { hoursFinder } from "./hours-of";
import { ownSizeOf } from "./own-size";

export type FellInput = Readonly<{
  /** Plans in force, schedules and listings as they stood at this instant. */
  asOf: Instant;
  fleets: readonly FleetPlan[];
  schedules: ReadonlyMap<string, CompiledSchedule>;
  capabilities: CapabilitiesByAccount;
  from: Instant;
  to: Instant;
}>;

/** A gap between rounds that is longer than this is looked at from its end. */
const LOOK_BACK_S = 8 * DAY_S;

/**
 * Says whether the hours of a resource, as they stood at an instant, are off at `to` and fell after `from`: were
 * on then, or rose and fell in between. Guarded ones have none.
 */
export function fellReader(input: FellInput): (resource: Resource) => boolean {
  const claim = claimer(input.fleets);
  const find = hoursFinder(input.schedules, input.capabilities);
  const asked = new Map<CompiledSchedule, Map<string, boolean>>();
  const from = Math.max(input.from, input.to - LOOK_BACK_S);
  const hasFallen = (compiled: CompiledSchedule, leadMinutes: number, ownSize: Level): boolean => {
    const spans = expandWithLead(compiled, { from, to: input.to + 1, leadS: leadMinutes * MINUTE_S, ownSize });
    return spans.at(-1)?.level === 0 && spans.some(({ level }) => level !== 0);
  };
  return (resource) => {
    const then = {
      ...listedAt(resource, input.asOf),
      ...(resource.poolPlace === undefined ? {} : { poolPlace: resource.poolPlace }),
    };
    const fleet = isGuarded(then) ? null : claim(then);
    const hours = fleet && find(then, fleet);
    if (!fleet || hours?.kind !== "schedule") return false;
    const ownSize = ownSizeOf(then, fleet);
    const known = asked.get(hours.compiled) ?? new Map<string, boolean>();
    asked.set(hours.compiled, known);
    const key = `${fleet.lead} ${ownSize}`;
    const answer = known.get(key) ?? hasFallen(hours.compiled, fleet.lead, ownSize);
    known.set(key, answer);
    return answer;
  };
}
