import type { Level } from "@/core/hours";
import { isRunningState, type Resource, type ResourceState } from "@/core/plan";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { RESOURCE_COLUMNS, RESOURCES_MAX, type ResourceRow, resourceOf } from "./resources";

/** A resource with what the last round said of it. */
export type StandingResource = Resource & Readonly<{ due: Level | null; fleet: string | null; why: string }>;

type Kept = Readonly<{ stamp: string; resources: readonly StandingResource[]; running: readonly StandingResource[] }>;
const kept = new WeakMap<Db, Kept>();

/** Moves whenever a resource or what was decided of it changes: whatever was read or reckoned under it may be kept until then. */
export async function resourceStamp(db: Db): Promise<string> {
  const { rows } = await db.query<{ stamp: string }>("select n::text as stamp from resource_stamp");
  return rows[0]?.stamp ?? "";
}

/** Everything that is not gone, by name. */
export async function resourceList(db: Db): Promise<readonly StandingResource[]> {
  return (await standing(db)).resources;
}

/** What is billed for compute now or may be: everything running, and what was shut down from inside. */
export async function runningList(db: Db): Promise<readonly StandingResource[]> {
  return (await standing(db)).running;
}

/** True for what Burn lists. */
export function isStanding(state: ResourceState): boolean {
  return isRunningState(state) || state === "halted";
}

/**
 * Reading ten thousand rows takes a fifth of a second, so they are kept until the stamp of the
 * table moves. The stamp is read first: rows that are newer than it are only read once more.
 */
async function standing(db: Db): Promise<Kept> {
  const stamp = await resourceStamp(db);
  const known = kept.get(db);
  if (known?.stamp === stamp) return known;
  const resources = await readStanding(db);
  const read = { stamp, resources, running: resources.filter(({ state }) => isStanding(state)) };
  kept.set(db, read);
  return read;
}

async function readStanding(db: Db): Promise<StandingResource[]> {
  const { rows } = await db.query<ResourceRow & { due: Level | null; fleet: string | null; why: string | null }>(
    `select ${RESOURCE_COLUMNS}, d.due, d.fleet, d.why
     from resource r
     join account a on a.name = r.account
     left join decision d on d.id = r.decision_id
     where r.state <> 'gone'
     order by r.name, r.id
     limit ${RESOURCES_MAX + 1}`,
  );
  if (rows.length > RESOURCES_MAX) throw new Error(`more than ${RESOURCES_MAX} resources`);
  return rows.map((row) => ({
    ...resourceOf(row),
    due: row.due,
    fleet: row.fleet,
    why: row.why ?? "no round has looked at it yet",
  }));
}

/** What is gone, since when at the earliest; for costs of the days before. */
export async function goneList(db: Db): Promise<Resource[]> {
  const { rows } = await db.query<ResourceRow>(
    `select ${RESOURCE_COLUMNS}
     from resource r
     join account a on a.name = r.account
     where r.state = 'gone'
     order by r.id
     limit ${RESOURCES_MAX}`,
  );
  return rows.map(resourceOf);
}

/** What a resource was at an instant. */
export type StateThen = Readonly<{ state: ResourceState; level: Level; since: Instant; runSince: Instant | null }>;

/** The state of every resource of the feed as of an instant; one that had none yet is missing. */
export async function statesAt(db: Db, at: Instant): Promise<Map<string, StateThen>> {
  const { rows } = await db.query<StateThen & { id: string }>(
    `select r.id, c.state, c.level, c.at as since, c.run_since as "runSince"
     from resource r
     cross join lateral (
       select state, level, at, run_since
       from state_change
       where resource_id = r.id and at <= to_timestamp($1::double precision)
       order by at desc, n desc
       limit 1
     ) as c
     limit ${RESOURCES_MAX}`,
    [at],
  );
  return new Map(rows.map(({ id, ...then }) => [id, then]));
}
