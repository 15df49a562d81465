import { type FleetPlan, isGuarded, type Resource } from "../plan";
import type { Instant } from "../time";
import { byRule, decidingAt, OVERRIDES, type Override } from "./override";
import { overridesOn } from "./overrides-on";

/**
 * Finds the override that stands beside a resource at an instant, to be read and ended by hand: of those that are listed the
 * one that decides. Null where there is none, where no fleet has it, and where a guard speaks for it.
 */
export function listedOverrides<O extends Override>(
  overrides: readonly O[],
  at: Instant,
): (resource: Resource, fleet: FleetPlan["name"] | null) => O | null {
  const onIt = overridesOn(overrides.filter(({ kind }) => OVERRIDES[kind].isListed));
  return (resource, fleet) => {
    if (fleet === null) return null;
    const own = onIt(resource.id, fleet);
    if (own.length === 0 || isGuarded(resource)) return null;
    return decidingAt(byRule(own, { resourceId: resource.id, plan: { name: fleet, pooled: undefined } }), at)?.override ?? null;
  };
}
