import type { Level } from "@/core/hours";
import { GUARD_HOLDS_S, GUARD_TAG, type ListedResource, type Resource, type ResourceKind, type ResourceState } from "@/core/plan";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";

export const RESOURCE_COLUMNS = `r.id, r.account, a.provider, r.name, r.kind, r.region, r.zone, r.size, r.os, r.purchase, r.tags, r.state, r.level,
  r.target, r.level_max, r.since, r.run_since, r.cores, r.memory_gib, r.disk_gib, r.disk_class, r.addresses, r.attached_to, r.guarded_until,
  case when r.kind in ('group', 'service') then coalesce(r.own_size, ${greatestLevel("a.read_at")}) else 1 end as own_size`;

/** The greatest level of a resource `r` in the 28 days before an instant, at least 1. */
function greatestLevel(at: string): string {
  return `greatest(1, r.level,
    (select max(c.level) from state_change c
     where c.resource_id = r.id and c.at > ${at} - interval '28 days' and c.at <= ${at}),
    (select c.level from state_change c
     where c.resource_id = r.id and c.at <= ${at} - interval '28 days'
     order by c.at desc, c.source desc, c.n desc
     limit 1))`;
}

/** Fixes what on means for groups and services that a plan has for the first time; a plan never tells it of itself. True where there were any. */
export async function fixOwnSizes(db: Db, ids: readonly string[], now: Instant): Promise<boolean> {
  const { rows } = await db.query<{ id: string }>(
    "select id from resource where id = any ($1::text[]) and own_size is null and kind in ('group', 'service')",
    [ids],
  );
  if (rows.length === 0) return false;
  await db.query(
    `update resource r set own_size = ${greatestLevel("to_timestamp($2::double precision)")} where r.id = any ($1::text[])`,
    [rows.map(({ id }) => id), now],
  );
  return true;
}

export type ResourceRow = {
  id: string;
  account: string;
  provider: string;
  name: string;
  kind: ResourceKind;
  region: string;
  zone: string;
  size: string;
  os: string;
  purchase: string;
  tags: Record<string, string>;
  state: ResourceState;
  level: Level;
  target: Level;
  level_max: number;
  since: number;
  run_since: number | null;
  cores: number;
  memory_gib: number;
  disk_gib: number;
  disk_class: string;
  addresses: number;
  attached_to: string | null;
  own_size: Level;
  guarded_until: number | null;
};

export function resourceOf(row: ResourceRow): Resource {
  const fields: Record<string, string> = {
    account: row.account,
    provider: row.provider,
    region: row.region,
    name: row.name,
    kind: row.kind,
  };
  if (row.zone) fields.zone = row.zone;
  if (row.size) fields.size = row.size;
  if (row.os) fields.os = row.os;
  if (row.purchase) fields.purchase = row.purchase;
  return {
    id: row.id,
    name: row.name,
    kind: row.kind,
    fields,
    tags: row.tags,
    state: row.state,
    level: row.level,
    target: row.target,
    levelMax: row.level_max,
    since: row.since,
    runSince: row.run_since,
    cores: row.cores,
    memoryGib: row.memory_gib,
    diskGib: row.disk_gib,
    diskClass: row.disk_class,
    addresses: row.addresses,
    attachedTo: row.attached_to,
    ownSize: row.own_size,
    guardedUntil: row.guarded_until,
    earlier: NEVER_OTHERWISE,
  };
}

const NEVER_OTHERWISE: Resource["earlier"] = [];

/** More than one instance is meant for; a list beyond this is refused, not cut. */
export const RESOURCES_MAX = 100_000;

/** What a listing says of a resource besides its state; a change of it is history. */
const LISTED = `name, region, zone, size, os, purchase, tags, level_max, cores, memory_gib, disk_gib, disk_class, addresses, attached_to`;

/**
 * A listing as it was read; `kept` was in it too, but could not be understood: it stays as it was. `known` is what
 * is stored of the account, read by whoever leads: what is listed like it is not written again.
 */
export type SavedListing = Readonly<{
  resources: readonly ListedResource[];
  at: Instant;
  kept?: readonly string[];
  known?: readonly ListedResource[];
}>;

/**
 * Writes what was read of one account at an instant: new, changed and vanished resources in one
 * statement each. What is listed otherwise than before, no longer or again is noted as history.
 */
export async function saveResources(
  db: Db,
  account: string,
  { resources, at, kept = [], known = [] }: SavedListing,
): Promise<void> {
  const stored = new Map(known.map((resource) => [resource.id, resource]));
  const lines = JSON.stringify(resources.filter((resource) => !isAlike(resource, stored.get(resource.id))).map(lineOf));
  const ids = [...resources.map(({ id }) => id), ...kept];
  await noteListings(db, { lines, at });
  await noteLoose(db, account, lines);
  await noteVanished(db, account, { ids, at });
  await noteAgain(db, account, { lines, at });
  await db.query(
    `with line as (${RECORDSET})
     insert into resource as r (id, account, name, kind, region, zone, size, os, purchase, tags, state, level, target, level_max,
       since, run_since, cores, memory_gib, disk_gib, disk_class, addresses, attached_to)
     select id, $2::text, name, kind, region, zone, size, os, purchase, tags, state, level, target, level_max,
       since, run_since, cores, memory_gib, disk_gib, disk_class, addresses, attached_to
     from line
     on conflict (id) do update set
       name = excluded.name, region = excluded.region, zone = excluded.zone, size = excluded.size, os = excluded.os,
       purchase = excluded.purchase, tags = excluded.tags, state = excluded.state, level = excluded.level,
       target = excluded.target, level_max = excluded.level_max, since = excluded.since, run_since = excluded.run_since,
       cores = excluded.cores, memory_gib = excluded.memory_gib, disk_gib = excluded.disk_gib,
       disk_class = excluded.disk_class, addresses = excluded.addresses, attached_to = excluded.attached_to,
       -- a guard that was seen holds for a while after its tag is gone
       guarded_until = case
         when excluded.tags ? '${GUARD_TAG}' then null
         when r.tags ? '${GUARD_TAG}' then to_timestamp($3::double precision + ${GUARD_HOLDS_S})
         else r.guarded_until
       end
     where (r.name, r.region, r.zone, r.size, r.os, r.purchase, r.tags, r.state, r.level, r.target, r.level_max, r.since,
         r.run_since, r.cores, r.memory_gib, r.disk_gib, r.disk_class, r.addresses, r.attached_to)
       is distinct from (excluded.name, excluded.region, excluded.zone, excluded.size, excluded.os, excluded.purchase,
         excluded.tags, excluded.state, excluded.level, excluded.target, excluded.level_max, excluded.since,
         excluded.run_since, excluded.cores, excluded.memory_gib, excluded.disk_gib, excluded.disk_class,
         excluded.addresses, excluded.attached_to)`,
    [lines, account, at],
  );
  await db.query(
    "update resource set guarded_until = null where account = $1::text and guarded_until <= to_timestamp($2::double precision)",
    [account, at],
  );
  await db.query(
    `update resource
     set state = 'gone', level = 0, target = 0, run_since = null, since = to_timestamp($3::double precision)
     where account = $1::text and state <> 'gone' and not (id = any ($2::text[]))`,
    [account, ids, at],
  );
}

const ALIKE = [
  "name",
  "state",
  "level",
  "target",
  "levelMax",
  "since",
  "runSince",
  "cores",
  "memoryGib",
  "diskGib",
  "diskClass",
  "addresses",
  "attachedTo",
] as const;
const ALIKE_FIELDS = ["region", "zone", "size", "os", "purchase"] as const;

/** True where a resource is listed just as it is stored. */
function isAlike(listed: ListedResource, stored: ListedResource | undefined): boolean {
  if (!stored || ALIKE.some((key) => listed[key] !== stored[key])) return false;
  if (ALIKE_FIELDS.some((key) => (listed.fields[key] ?? "") !== (stored.fields[key] ?? ""))) return false;
  const keys = Object.keys(listed.tags);
  return keys.length === Object.keys(stored.tags).length && keys.every((key) => listed.tags[key] === stored.tags[key]);
}

const RECORDSET = `
  select *
  from jsonb_to_recordset($1::jsonb) as line (
    id text, name text, kind text, region text, zone text, size text, os text, purchase text, tags jsonb, state text,
    level integer, target integer, level_max integer, since timestamptz, run_since timestamptz, cores integer,
    memory_gib integer, disk_gib integer, disk_class text, addresses integer, attached_to text)`;

function lineOf(resource: ListedResource) {
  return {
    id: resource.id,
    name: resource.name,
    kind: resource.kind,
    region: resource.fields.region ?? "",
    zone: resource.fields.zone ?? "",
    size: resource.fields.size ?? "",
    os: resource.fields.os ?? "",
    purchase: resource.fields.purchase ?? "",
    tags: resource.tags,
    state: resource.state,
    level: resource.level,
    target: resource.target,
    level_max: resource.levelMax,
    since: new Date(resource.since * 1000).toISOString(),
    run_since: resource.runSince === null ? null : new Date(resource.runSince * 1000).toISOString(),
    cores: resource.cores,
    memory_gib: resource.memoryGib,
    disk_gib: resource.diskGib,
    disk_class: resource.diskClass,
    addresses: resource.addresses,
    attached_to: resource.attachedTo,
  };
}

/** A version for each resource that is listed for the first time or otherwise than before. */
async function noteListings(db: Db, { lines, at }: { lines: string; at: Instant }): Promise<void> {
  const own = LISTED.split(", ");
  await db.query(
    `with line as (${RECORDSET}), news as (
       select line.*
       from line
       left join resource r on r.id = line.id
       where r.id is null
         or (${own.map((name) => `r.${name}`).join(", ")}) is distinct from (${own.map((name) => `line.${name}`).join(", ")})
     )
     insert into resource_version (resource_id, number, at, body)
     select news.id, coalesce((select max(v.number) from resource_version v where v.resource_id = news.id), 0) + 1,
       to_timestamp($2::double precision),
       jsonb_build_object(${own.map((name) => `'${name}', news.${name}`).join(", ")})
     from news`,
    [lines, at],
  );
}

/** A disk or an address that is listed for the first time: it has no feed, so this is where its life begins. */
async function noteLoose(db: Db, account: string, lines: string): Promise<void> {
  await db.query(
    `with line as (${RECORDSET})
     insert into state_change (account, source, n, resource_id, at, type, state, level, note)
     select $2::text, 'listing', ${nextListing("$2::text")} + row_number() over (order by line.id), line.id, line.since, 'listed',
       line.state, 0, ''
     from line
     left join resource r on r.id = line.id
     where r.id is null and line.kind in ('disk', 'address')`,
    [lines, account],
  );
}

/** The number after which the listing's own changes of an account go on. */
function nextListing(account: string): string {
  return `coalesce((select max(n) from state_change where account = ${account} and source = 'listing'), 0)`;
}

/** What ran or stood and is not listed any more: a change of state of its own kind. */
async function noteVanished(db: Db, account: string, { ids, at }: { ids: readonly string[]; at: Instant }): Promise<void> {
  await db.query(
    `insert into state_change (account, source, n, resource_id, at, type, state, level, note)
     select $1::text, 'listing',
       ${nextListing("$1::text")} + row_number() over (order by r.id),
       r.id, to_timestamp($3::double precision), 'not listed since', 'gone', 0, ''
     from resource r
     where r.account = $1::text and r.state <> 'gone' and not (r.id = any ($2::text[]))`,
    [account, ids, at],
  );
}

/** What was not listed and is again, in the state it is listed in. */
async function noteAgain(db: Db, account: string, { lines, at }: { lines: string; at: Instant }): Promise<void> {
  await db.query(
    `with line as (${RECORDSET})
     insert into state_change (account, source, n, resource_id, at, type, state, level, note, run_since)
     select $2::text, 'listing',
       ${nextListing("$2::text")} + row_number() over (order by r.id),
       r.id, to_timestamp($3::double precision), 'listed again', line.state, line.level, '',
       case when line.state in ('running', 'starting', 'stopping') then to_timestamp($3::double precision) end
     from resource r
     join line on line.id = r.id
     where r.account = $2::text and r.state = 'gone' and line.state <> 'gone'`,
    [lines, account, at],
  );
}
