import { type FleetPlan, isGuarded, isSchedulable, type Resource } from "@/core/plan";
import { claimer, type HoursOf, hoursFinder } from "@/core/rounds";
import { compileAll, type StoredWorld } from "./stored";

/** The plan in force that a resource belongs to and the hours it follows; resources that agree in all of it share one object. */
export type Claim = Readonly<{ plan: FleetPlan; hours: HoursOf; isGuarded: boolean }>;
type Plans = Pick<StoredWorld, "fleets" | "schedules" | "calendars" | "capabilities">;
type Kept = Readonly<{ key: string; claims: readonly (Claim | null)[] }>;
const kept = new WeakMap<readonly Resource[], Kept>();

/** The claim of each of the world's resources, in their order; kept while neither they nor the plans change. */
export function claimsOf(world: Plans & Readonly<{ resources: readonly Resource[] }>): readonly (Claim | null)[] {
  const { resources, fleets, schedules, calendars, capabilities } = world;
  const key = JSON.stringify([fleets.map(({ inForce }) => inForce), schedules, calendars, [...capabilities]]);
  const known = kept.get(resources);
  if (known?.key === key) return known.claims;
  const claims = resources.map(claimFinder(world));
  kept.set(resources, { key, claims });
  return claims;
}

/** Finds the claim of any resource; null for what no plan in force matches, and for what has no level to set. */
function claimFinder({ fleets, schedules, calendars, capabilities }: Plans): (resource: Resource) => Claim | null {
  const claim = claimer(fleets.flatMap(({ inForce }) => (inForce ? [inForce] : [])));
  const find = hoursFinder(compileAll(schedules, calendars), capabilities);
  const shared = new Map<FleetPlan, Map<HoursOf, Claim>>();
  return (resource) => {
    const plan = isSchedulable(resource) ? claim(resource) : null;
    if (!plan) return null;
    const hours = find(resource, plan);
    if (isGuarded(resource)) return { plan, hours, isGuarded: true };
    const byHours = shared.get(plan) ?? new Map<HoursOf, Claim>();
    shared.set(plan, byHours);
    const one = byHours.get(hours) ?? { plan, hours, isGuarded: false };
    byHours.set(hours, one);
    return one;
  };
}
