import type { Level } from "@/core/hours";
import type { Resource } from "@/core/plan";
import type { Db } from "./pool";
import { RESOURCE_COLUMNS, RESOURCES_MAX, type ResourceRow, resourceOf } from "./resources";

/** A running resource with what the last round said of it. */
export type RunningResource = Resource & Readonly<{ due: Level | null; fleet: string | null; why: string }>;

type Kept = Readonly<{ stamp: string; resources: readonly RunningResource[] }>;
const kept = new WeakMap<Db, Kept>();

/**
 * What is billed for compute now or may be: everything running, and what was shut down from inside.
 * Reading ten thousand rows takes a fifth of a second, so they are kept until the stamp of the
 * table moves. The stamp is read first: rows that are newer than it are only read once more.
 */
export async function runningList(db: Db): Promise<readonly RunningResource[]> {
  const { rows } = await db.query<{ stamp: string }>("select n::text as stamp from resource_stamp");
  const stamp = rows[0]?.stamp ?? "";
  const known = kept.get(db);
  if (known?.stamp === stamp) return known.resources;
  const resources = await readRunning(db);
  kept.set(db, { stamp, resources });
  return resources;
}

async function readRunning(db: Db): Promise<RunningResource[]> {
  const { rows } = await db.query<ResourceRow & { due: Level | null; fleet: string | null; why: string | null }>(
    `select ${RESOURCE_COLUMNS}, d.due, d.fleet, d.why
     from resource r
     join account a on a.name = r.account
     left join decision d on d.id = r.decision_id
     where r.state in ('running', 'starting', 'stopping', 'halted')
     limit ${RESOURCES_MAX}`,
  );
  return rows.map((row) => ({
    ...resourceOf(row),
    due: row.due,
    fleet: row.fleet,
    why: row.why ?? "no round has looked at it yet",
  }));
}
