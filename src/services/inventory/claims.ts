import type { Level } from "@/core/hours";
import { type FleetPlan, isGuarded, isSchedulable, type Resource } from "@/core/plan";
import { claimer, type Following, type HoursOf, hoursFinder, type Override, ownSizeOf, withPlaces } from "@/core/rounds";
import { keptBeside } from "@/store";
import { compileAll, plansInForce, type Snapshot } from "./snapshot";

/** The plan in force that a resource belongs to and the hours it follows; resources that agree in all of it share one object. */
export type Claim = Readonly<{ plan: FleetPlan; hours: HoursOf; ownSize: Level; isGuarded: boolean }>;
type Plans = Pick<Snapshot, "fleets" | "schedules" | "calendars" | "capabilities">;
type Kept = Readonly<{ key: string; claims: readonly (Claim | null)[] }>;

/**
 * The claim of each of the snapshot's resources, in their order; kept while neither they nor the plans change. `wasThere` says
 * of an instant that is past who counts for the places of a pool.
 */
export function claimsOf(
  snapshot: Plans & Readonly<{ resources: readonly Resource[] }>,
  wasThere?: (resource: Resource) => boolean,
): readonly (Claim | null)[] {
  const { resources, fleets, schedules, calendars, capabilities } = snapshot;
  const plans = plansInForce(snapshot);
  const absent = wasThere && plans.some(({ pooled }) => pooled) ? resources.filter((one) => !wasThere(one)) : [];
  const key = JSON.stringify([
    fleets.map(({ inForce }) => inForce),
    schedules,
    calendars,
    [...capabilities],
    absent.map(({ id }) => id),
  ]);
  const { claims } = keptBeside<Kept>("claims", resources, {
    make: () => ({ key, claims: withPlaces(resources, plans, wasThere).map(claimFinder(snapshot)) }),
    isGood: (known) => known.key === key,
  });
  return claims;
}

/** The fleets of members of groups, which are those of their groups: by member. */
export function fleetsOfMembers(resources: readonly Resource[], claims: readonly (Claim | null)[]): ReadonlyMap<string, string> {
  const members = resources.filter(({ kind }) => kind === "member");
  if (members.length === 0) return NO_FLEETS;
  const place = new Map(resources.flatMap(({ id, kind }, i) => (kind === "group" ? [[id, i] as const] : [])));
  return new Map(
    members.flatMap(({ id, attachedTo }) => {
      const fleet = claims[place.get(attachedTo ?? "") ?? -1]?.plan.name;
      return fleet === undefined ? [] : [[id, fleet] as const];
    }),
  );
}

const NO_FLEETS: ReadonlyMap<string, string> = new Map();

/** Finds the claim of any resource; null for what no plan in force matches, and for what has no level to set. */
function claimFinder(plans: Plans): (resource: Resource) => Claim | null {
  const claim = claimer(plansInForce(plans));
  const find = hoursFinder(compileAll(plans.schedules, plans.calendars), plans.capabilities);
  const shared = new Map<FleetPlan, Map<HoursOf, Map<Level, Claim>>>();
  return (resource) => {
    const plan = isSchedulable(resource) ? claim(resource) : null;
    if (!plan) return null;
    const hours = find(resource, plan);
    const ownSize = ownSizeOf(resource, plan);
    if (isGuarded(resource)) return { plan, hours, ownSize, isGuarded: true };
    const byHours = shared.get(plan) ?? new Map<HoursOf, Map<Level, Claim>>();
    shared.set(plan, byHours);
    const bySize = byHours.get(hours) ?? new Map<Level, Claim>();
    byHours.set(hours, bySize);
    const one = bySize.get(ownSize) ?? { plan, hours, ownSize, isGuarded: false };
    bySize.set(ownSize, one);
    return one;
  };
}

/** What a resource follows under its claim, with the holds that may speak for it. */
export function followingOf({ plan, hours }: Claim, holds: readonly Override[]): Following {
  return { fleet: plan, hours, overrides: holds };
}
