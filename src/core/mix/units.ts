import type { Resource } from "../plan";
import type { Mix } from "./mix";
import { poolPlace } from "./pool-name";

/**
 * How many units of its group a machine of a mix stands for: what the plan says of the pool that it is of; of none that the
 * plan names, what its cores come to, at least one.
 */
export function unitsOfMember(
  { cores, fields }: Pick<Resource, "cores" | "fields">,
  group: Pick<Resource, "cores">,
  mix: Pick<Mix, "pools"> | undefined,
): number {
  const pool = mix?.pools.find(({ name }) => {
    const place = poolPlace(name);
    return place !== null && place.size === fields.size && place.zone === fields.zone;
  });
  return pool?.unitsPerMachine ?? Math.max(1, Math.floor(cores / Math.max(1, group.cores)));
}
