import { type NameIndex, type NamingRule, nearFinder } from "@/core/samples";
import { cache, type MetricHost, type Pool } from "@/store";
import { machineNames } from "./machine-names";

/** A host that names no machine, and whom it nearly names. */
export type Stranger = MetricHost & Readonly<{ nearly: string | null }>;

/** Adds whom hosts nearly name under a rule. What was found once is kept as long as the machines are the same. */
export async function withNear(pool: Pool, naming: NamingRule, hosts: readonly MetricHost[]): Promise<Stranger[]> {
  if (hosts.length === 0) return [];
  const nearOf = await nearNames(pool, naming);
  return hosts.map((host) => ({ ...host, nearly: nearOf(host.identity) }));
}

/** Whom an identity nearly names; the search ends after some work, and goes on where it ended when asked again. */
export async function nearNames(pool: Pool, naming: NamingRule): Promise<(identity: string) => string | null> {
  const index = await machineNames(pool, naming);
  const kept = cache<NameIndex, Map<string, string | null>>("near names");
  const found = kept.get(index) ?? new Map<string, string | null>();
  kept.set(index, found);
  if (found.size > KEPT_MAX) found.clear();
  const find = nearFinder(index);
  return (identity) => {
    const known = found.get(identity);
    if (known !== undefined) return known;
    const near = find(identity);
    // What was not searched to its end is searched again.
    if (near !== null || !find.isSpent()) found.set(identity, near);
    return near;
  };
}

const KEPT_MAX = 10_000;
