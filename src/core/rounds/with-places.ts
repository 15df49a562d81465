import type { FleetPlan, Resource } from "../plan";
import { claimer } from "./claim";
import { placesByName } from "./pool-place";

/**
 * The resources with their places in the pools that they belong to, where they have none yet; the same list where no plan
 * has a pool. Of an instant that is past only what there was then counts: what came or went since shifts nobody.
 */
export function withPlaces<R extends Resource>(
  resources: readonly R[],
  fleets: readonly FleetPlan[],
  wasThere: (resource: R) => boolean = () => true,
): readonly R[] {
  if (!fleets.some(({ pooled }) => pooled)) return resources;
  const claim = claimer(fleets);
  const claims = resources.map((resource) => claim(resource));
  const members = new Map<FleetPlan, R[]>();
  resources.forEach((resource, i) => {
    const fleet = claims[i];
    // A group of a pool has no place: it follows the hours while they want any machine.
    if (!fleet?.pooled || resource.kind !== "machine" || !wasThere(resource)) return;
    const own = members.get(fleet) ?? [];
    members.set(fleet, own);
    own.push(resource);
  });
  const places = new Map([...members.values()].flatMap((own) => [...placesByName(own)]));
  return resources.map((resource) => {
    const poolPlace = resource.poolPlace ?? places.get(resource.id);
    return poolPlace === undefined ? resource : { ...resource, poolPlace };
  });
}
