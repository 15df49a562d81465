import type { Level } from "@/core/hours";
import { isRunningState, type Resource, type ResourceState } from "@/core/plan";
import type { Db } from "./pool";
import { RESOURCE_COLUMNS, RESOURCES_MAX, type ResourceRow, resourceOf } from "./resources";

/** A resource with what the last round said of it. */
export type StoredResource = Resource & Decided;

type Kept = Readonly<{ stamp: string; horizon: string; resources: readonly StoredResource[] }>;
const kept = new WeakMap<Db, Kept>();

/** Impact whenever a resource or what was decided of it changes: whatever was read or reckoned under it may be kept until then. */
export async function resourceStamp(db: Db): Promise<string> {
  return (await readStamp(db)).stamp;
}

/** The stamp, and the oldest transaction that may still change a row unseen by whoever reads now. */
async function readStamp(db: Db): Promise<{ stamp: string; horizon: string }> {
  const { rows } = await db.query<{ stamp: string; horizon: string }>(
    "select n::text as stamp, pg_snapshot_xmin(pg_current_snapshot())::text as horizon from resource_stamp",
  );
  return rows[0] ?? { stamp: "", horizon: "0" };
}

/**
 * Everything that is not gone, by name. Reading ten thousand rows takes a fifth of a second, so they
 * are kept until the stamp of the table moves, and then only what changed is read. The stamp is read
 * first: rows that are newer than it are only read once more.
 */
export async function resourceList(db: Db): Promise<readonly StoredResource[]> {
  const now = await readStamp(db);
  const known = kept.get(db);
  if (known?.stamp === now.stamp) return known.resources;
  const resources = (known && (await withChanges(db, known))) ?? (await readInventory(db));
  kept.set(db, { ...now, resources });
  return resources;
}

/** True for what Burn lists: what is billed for compute now or may be, and what was shut down from inside. */
export function isOnBurn(state: ResourceState): boolean {
  return isRunningState(state) || state === "halted";
}

/** The kept list with the rows that changed since in their places; null where rows came, went or took another name. */
async function withChanges(db: Db, { resources, horizon }: Kept): Promise<readonly StoredResource[] | null> {
  const [{ rows }, count] = await Promise.all([
    db.query<StoredRow>(`${STANDING} and r.changed_in >= $1::text::xid8`, [horizon]),
    db.query<{ n: number }>("select count(*)::integer as n from resource where state <> 'gone'"),
  ]);
  const changed = new Map(rows.map((row) => [row.id, storedOf(row)]));
  let placed = 0;
  const result = resources.map((old) => {
    const now = changed.get(old.id);
    if (now?.name === old.name) placed++;
    return now ?? old;
  });
  return placed === changed.size && count.rows[0]?.n === result.length ? result : null;
}

type StoredRow = ResourceRow & { due: Level | null; fleet: string | null; why: string | null };

const STANDING = `
  select ${RESOURCE_COLUMNS}, d.due, d.fleet, d.why
  from resource r
  join account a on a.name = r.account
  left join decision d on d.id = r.decision_id
  where r.state <> 'gone'`;

async function readInventory(db: Db): Promise<StoredResource[]> {
  const { rows } = await db.query<StoredRow>(`${STANDING} order by r.name, r.id limit ${RESOURCES_MAX + 1}`);
  if (rows.length > RESOURCES_MAX) throw new Error(`more than ${RESOURCES_MAX} resources`);
  return rows.map(storedOf);
}

function storedOf(row: StoredRow): StoredResource {
  const resource = resourceOf(row);
  return resourceAs(resource, resource, { due: row.due, fleet: row.fleet, why: row.why ?? "no round has looked at it yet" });
}

/** What changes of a resource from one instant to another. */
export type StateOf = Pick<Resource, "state" | "level" | "target" | "since" | "runSince">;
/** What the plans say of it. */
export type Decided = Readonly<{ due: Level | null; fleet: string | null; why: string }>;

/**
 * The resource in a state, with what is decided of it. Written out, for all to have one shape: there
 * are thousands, and the engine reads spread copies of so many fields ten times as slowly.
 */
export function resourceAs(resource: Resource, state: StateOf, { due, fleet, why }: Decided): StoredResource {
  return {
    id: resource.id,
    name: resource.name,
    kind: resource.kind,
    fields: resource.fields,
    tags: resource.tags,
    state: state.state,
    level: state.level,
    target: state.target,
    levelMax: resource.levelMax,
    since: state.since,
    runSince: state.runSince,
    cores: resource.cores,
    memoryGib: resource.memoryGib,
    diskGib: resource.diskGib,
    diskClass: resource.diskClass,
    addresses: resource.addresses,
    attachedTo: resource.attachedTo,
    due,
    fleet,
    why,
  };
}

type KeptEver = Readonly<{ present: readonly StoredResource[]; ever: readonly Resource[] }>;
const keptEver = new WeakMap<Db, KeptEver>();

/** Everything there is and, after it, what is gone; for costs and states of the days before. */
export async function fullInventory(db: Db): Promise<readonly Resource[]> {
  const present = await resourceList(db);
  const known = keptEver.get(db);
  if (known?.present === present) return known.ever;
  const ever = [...present, ...(await goneList(db))];
  keptEver.set(db, { present, ever });
  return ever;
}

async function goneList(db: Db): Promise<Resource[]> {
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
