import { type Matched, namedBy, type Point } from "@/core/samples";
import { cache, namesTold, type Pool } from "@/store";

/** A source may have so many names of metrics in all, and one machine of it so many. */
export const NAMES_PER_SOURCE = 1_000;
export const NAMES_PER_MACHINE = 200;

/** What is known is read anew after so long: names that were forgotten make room. */
const AGAIN_MS = 3_600_000;

type Told = { readAt: number; names: Set<string>; byMachine: Map<string, Set<string>> };

/** Says of points why their metric's name is one too many; null where it is not. What is admitted counts from then on. */
export async function boundedNames(
  pool: Pool,
  sourceId: number,
  matches: readonly (Matched | null)[],
): Promise<(point: Point, machine: string) => string | null> {
  const kept = cache<Pool, Map<number, Told>>("names told");
  const all = kept.get(pool) ?? new Map<number, Told>();
  kept.set(pool, all);
  const known = all.get(sourceId);
  const own = known && performance.now() - known.readAt < AGAIN_MS ? known : undefined;
  const told = own ?? { readAt: performance.now(), names: new Set<string>(), byMachine: new Map<string, Set<string>>() };
  const unknown = new Set(matches.flatMap((match) => (match?.id && !told.byMachine.has(match.id) ? [match.id] : [])));
  if (!own || unknown.size > 0) {
    const { names, byResource } = await namesTold(pool, sourceId, { ids: [...unknown], limit: NAMES_PER_SOURCE });
    for (const name of names) told.names.add(name);
    for (const id of unknown) told.byMachine.set(id, new Set(byResource.get(id)));
    all.set(sourceId, told);
  }
  /** What is counted and stored is our name of a metric. */
  const ourNames = new Map<string, string>();
  return ({ metric: name }, machine) => {
    const metric = ourNames.get(name) ?? namedBy(name).metric;
    ourNames.set(name, metric);
    const its = told.byMachine.get(machine);
    if (!its || its.has(metric)) return null;
    if (!told.names.has(metric) && told.names.size >= NAMES_PER_SOURCE)
      return `a metric beyond the ${NAMES_PER_SOURCE} that a source may name`;
    if (its.size >= NAMES_PER_MACHINE) return `a metric beyond the ${NAMES_PER_MACHINE} that a machine may have`;
    told.names.add(metric);
    its.add(metric);
    return null;
  };
}

/** Forgets which names a source has told: it has changed, or names were forgotten. */
export function forgetNames(pool: Pool, sourceId: number): void {
  cache<Pool, Map<number, Told>>("names told").get(pool)?.delete(sourceId);
}
