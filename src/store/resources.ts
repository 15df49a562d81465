import type { Level } from "@/core/hours";
import type { Resource, ResourceKind, ResourceState } from "@/core/plan";
import type { Db } from "./pool";

export const RESOURCE_COLUMNS = `r.id, r.account, a.provider, r.name, r.kind, r.region, r.zone, r.size, r.os, r.purchase, r.tags, r.state, r.level,
  r.target, r.level_max, r.since, r.run_since, r.cores, r.memory_gib, r.disk_gib, r.disk_class, r.addresses, r.attached_to`;

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
  };
}

/** More than one instance is meant for; a list beyond this is refused, not cut. */
export const RESOURCES_MAX = 100_000;

/** Writes what was read of one account: new, changed and vanished resources in one statement each. */
export async function saveResources(db: Db, account: string, resources: readonly Resource[]): Promise<void> {
  const lines = resources.map((resource) => ({
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
  }));
  await db.query(
    `with line as (
       select *
       from jsonb_to_recordset($2::jsonb) as line (
         id text, name text, kind text, region text, zone text, size text, os text, purchase text, tags jsonb, state text,
         level integer, target integer, level_max integer, since timestamptz, run_since timestamptz, cores integer,
         memory_gib integer, disk_gib integer, disk_class text, addresses integer, attached_to text)
     )
     insert into resource as r (id, account, name, kind, region, zone, size, os, purchase, tags, state, level, target, level_max,
       since, run_since, cores, memory_gib, disk_gib, disk_class, addresses, attached_to)
     select id, $1::text, name, kind, region, zone, size, os, purchase, tags, state, level, target, level_max,
       since, run_since, cores, memory_gib, disk_gib, disk_class, addresses, attached_to
     from line
     on conflict (id) do update set
       name = excluded.name, region = excluded.region, zone = excluded.zone, size = excluded.size, os = excluded.os,
       purchase = excluded.purchase, tags = excluded.tags, state = excluded.state, level = excluded.level,
       target = excluded.target, level_max = excluded.level_max, since = excluded.since, run_since = excluded.run_since,
       cores = excluded.cores, memory_gib = excluded.memory_gib, disk_gib = excluded.disk_gib,
       disk_class = excluded.disk_class, addresses = excluded.addresses, attached_to = excluded.attached_to
     where (r.name, r.region, r.zone, r.size, r.os, r.purchase, r.tags, r.state, r.level, r.target, r.level_max, r.since,
         r.run_since, r.cores, r.memory_gib, r.disk_gib, r.disk_class, r.addresses, r.attached_to)
       is distinct from (excluded.name, excluded.region, excluded.zone, excluded.size, excluded.os, excluded.purchase,
         excluded.tags, excluded.state, excluded.level, excluded.target, excluded.level_max, excluded.since,
         excluded.run_since, excluded.cores, excluded.memory_gib, excluded.disk_gib, excluded.disk_class,
         excluded.addresses, excluded.attached_to)`,
    [account, JSON.stringify(lines)],
  );
  await db.query(
    `update resource
     set state = 'gone', level = 0, target = 0, run_since = null
     where account = $1::text and state <> 'gone' and not (id = any ($2::text[]))`,
    [account, resources.map(({ id }) => id)],
  );
}
