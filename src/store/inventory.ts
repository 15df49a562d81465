import type { Level } from "@/core/hours";
import { mapped } from "@/core/pieces";
import { type Earlier, isRunningState, type Resource, type ResourceState } from "@/core/plan";
import type { Instant } from "@/core/time";
import { cache } from "./caches";
import { tagged } from "./data-tags";
import { type DataVersions, readDataVersions } from "./data-versions";
import { inPieces } from "./in-pieces";
import type { Db } from "./pool";
import { RESOURCE_COLUMNS, RESOURCES_MAX, type ResourceRow, resourceOf } from "./resources";
import { ListTooLongError } from "./whole";

/** A resource with what the last round said of it. */
export type StoredResource = Resource & Decided;

type Kept = Readonly<{ version: string; horizon: string; resources: readonly StoredResource[] }>;

/**
 * Everything that is not gone, by name. Reading ten thousand rows takes a fifth of a second, so they
 * are kept until the version of the table moves, and then only what changed is read. The version is read
 * first: rows that are newer than it are only read once more.
 */
export async function resourceList(db: Db, stamps?: DataVersions): Promise<readonly StoredResource[]> {
  const now = stamps ?? (await readDataVersions(db));
  const version = `${now.resources} ${now.versions}`;
  const kept = cache<Db, Kept>("inventory");
  const known = kept.get(db);
  if (known?.version === version) return known.resources;
  const earlier = await earlierListings(db, now);
  const read = known ? await withChanges(db, known, earlier) : await readInventory(db, earlier);
  // Where nothing changed it is the same list, and has its tag.
  const resources = read === known?.resources ? read : tagged(read, version);
  kept.set(db, { version, horizon: now.horizon, resources });
  return resources;
}

/** True for what Burn lists: what is billed for compute now or may be, and what was shut down from inside. */
export function isOnBurn(state: ResourceState): boolean {
  return isRunningState(state) || state === "halted";
}

/** The kept list with what changed since: rows in their places, new ones in theirs, without what is gone. */
async function withChanges(
  db: Db,
  { resources, horizon }: Kept,
  earlier: ReadonlyMap<string, readonly ResourceVersion[]>,
): Promise<readonly StoredResource[]> {
  const { rows } = await db.query<StoredRow>(`${STORED} where r.changed_in >= $1::text::xid8`, [horizon]);
  if (rows.length === 0) return resources;
  const changed = new Map(rows.map((row) => [row.id, row.state === "gone" ? null : storedOf(row, earlier)]));
  let isSorted = true;
  const result: StoredResource[] = [];
  for (const old of resources) {
    const now = changed.get(old.id);
    changed.delete(old.id);
    if (now === null) continue;
    if (now && now.name !== old.name) isSorted = false;
    result.push(now ?? old);
  }
  for (const now of changed.values()) {
    if (now === null) continue;
    isSorted = false;
    result.push(now);
  }
  if (result.length > RESOURCES_MAX) throw new ListTooLongError("resources", RESOURCES_MAX);
  return isSorted ? result : result.sort(byName);
}

function byName(a: Resource, b: Resource): number {
  return a.name < b.name ? -1 : a.name > b.name ? 1 : a.id < b.id ? -1 : 1;
}

type StoredRow = ResourceRow & { due: Level | null; fleet: string | null; why: string | null };

const STORED = `
  select ${RESOURCE_COLUMNS}, d.due, coalesce(d.fleet, m.fleet) as fleet,
    coalesce(d.why, 'its group is kept at its mix: ' || m.part || coalesce(' from ' || m.pool, ' at full price')) as why
  from resource r
  join account a on a.name = r.account
  left join decision d on d.id = r.decision_id
  left join mix_member m on m.resource_id = r.id`;

async function readInventory(db: Db, earlier: ReadonlyMap<string, readonly ResourceVersion[]>): Promise<StoredResource[]> {
  const { rows } = await db.query<StoredRow>(`${STORED} where r.state <> 'gone' limit ${RESOURCES_MAX + 1}`);
  if (rows.length > RESOURCES_MAX) throw new ListTooLongError("resources", RESOURCES_MAX);
  return (await inPieces(mapped(rows, (row) => storedOf(row, earlier)))).sort(byName);
}

function storedOf(row: StoredRow, earlier: ReadonlyMap<string, readonly ResourceVersion[]>): StoredResource {
  const resource = resourceOf(row);
  const decided = { due: row.due, fleet: row.fleet, why: row.why ?? "no round has looked at it yet" };
  return resourceAs(withEarlier(resource, earlier), resource, decided);
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
    ownSize: resource.ownSize,
    guardedUntil: resource.guardedUntil,
    earlier: resource.earlier,
    due,
    fleet,
    why,
  };
}

type KeptFull = Readonly<{ version: string; horizon: string; gone: ReadonlyMap<string, Resource>; all: readonly Resource[] }>;

/** Everything there is and, after it, what is gone; for costs and states of the days before. */
export async function fullInventory(db: Db): Promise<readonly Resource[]> {
  const stamps = await readDataVersions(db);
  const present = await resourceList(db, stamps);
  const version = `${stamps.resources} ${stamps.versions}`;
  const kept = cache<Db, KeptFull>("full inventory");
  const known = kept.get(db);
  if (known?.version === version) return known.all;
  const earlier = await earlierListings(db, stamps);
  const gone = new Map(known?.gone);
  const { rows } = known
    ? await db.query<ResourceRow>(`${GONE} where r.changed_in >= $1::text::xid8`, [known.horizon])
    : await db.query<ResourceRow>(`${GONE} where r.state = 'gone'`);
  for (const row of rows) {
    if (row.state === "gone") gone.set(row.id, withEarlier(resourceOf(row), earlier));
    else gone.delete(row.id);
  }
  const all = tagged([...present, ...gone.values()], version);
  kept.set(db, { version, horizon: stamps.horizon, gone, all });
  return all;
}

const GONE = `
  select ${RESOURCE_COLUMNS}
  from resource r
  join account a on a.name = r.account`;

/** What a listing said of a resource from an instant on. */
type ResourceVersion = Readonly<{ at: Instant; body: Listed }>;
type Listed = Pick<
  ResourceRow,
  | "name"
  | "region"
  | "zone"
  | "size"
  | "os"
  | "purchase"
  | "tags"
  | "level_max"
  | "cores"
  | "memory_gib"
  | "disk_gib"
  | "disk_class"
  | "addresses"
  | "attached_to"
>;
type KeptVersions = Readonly<{ version: string; versions: ReadonlyMap<string, readonly ResourceVersion[]> }>;

/** The listings of the resources that were ever listed otherwise than now, oldest first. */
async function earlierListings(
  db: Db,
  { versions: version }: DataVersions,
): Promise<ReadonlyMap<string, readonly ResourceVersion[]>> {
  const kept = cache<Db, KeptVersions>("versions");
  const known = kept.get(db);
  if (known?.version === version) return known.versions;
  const { rows } = await db.query<ResourceVersion & { id: string }>(
    `select v.resource_id as id, v.at, v.body
     from resource_version v
     where exists (select from resource_version other where other.resource_id = v.resource_id and other.number = 2)
     order by v.resource_id, v.number`,
  );
  const versions = new Map<string, ResourceVersion[]>();
  for (const { id, at, body } of rows) {
    const own = versions.get(id);
    if (own) own.push({ at, body });
    else versions.set(id, [{ at, body }]);
  }
  kept.set(db, { version, versions });
  return versions;
}

function withEarlier(resource: Resource, versions: ReadonlyMap<string, readonly ResourceVersion[]>): Resource {
  const own = versions.get(resource.id);
  if (!own) return resource;
  const earlier = own.slice(0, -1).map(({ body }, i): Earlier => {
    const until = (own[i + 1] as ResourceVersion).at;
    return { until, was: listedAs(resource, body) };
  });
  return { ...resource, earlier };
}

function listedAs(resource: Resource, body: Listed): Resource {
  const { account, provider } = resource.fields;
  return resourceOf({
    ...body,
    id: resource.id,
    account: account ?? "",
    provider: provider ?? "",
    kind: resource.kind,
    state: resource.state,
    level: resource.level,
    target: resource.target,
    since: resource.since,
    run_since: resource.runSince,
    own_size: resource.ownSize,
    guarded_until: resource.guardedUntil,
  });
}
