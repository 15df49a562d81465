import { type FleetDraft, type FleetPlan, fleetDraftSchema, fleetSchema } from "@/core/plan";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { whole } from "./whole";

export type Fleet = Readonly<{
  id: number;
  name: string;
  rank: number;
  version: number;
  draft: FleetDraft;
  inForce: FleetPlan | null;
  /** When its first plan was put in force; null before that. */
  firstInForceAt: Instant | null;
  /** Since when nobody looks after anything by it; null for one that is in use. */
  retiredAt: Instant | null;
  /** The UTC days it is compared with where a person chose them, `YYYY-MM-DD`, both included; else the 28 before its first plan. */
  basis: Readonly<{ from: string; to: string }> | null;
}>;

type Row = {
  id: number;
  name: string;
  rank: number;
  version: number;
  draft: unknown;
  in_force: unknown;
  first_at: Instant | null;
  retired_at: Instant | null;
  basis_from: string | null;
  basis_to: string | null;
};

const COLUMNS = `f.id, f.name, f.rank, f.version, f.draft, f.in_force, f.basis_from, f.basis_to, f.retired_at,
  (select min(v.at) from plan_version v where v.fleet_id = f.id) as first_at`;

function fleetOf(row: Row): Fleet {
  return {
    id: row.id,
    name: row.name,
    rank: row.rank,
    version: row.version,
    draft: fleetDraftSchema.parse(row.draft),
    inForce: row.in_force === null ? null : fleetSchema.parse(row.in_force),
    firstInForceAt: row.first_at,
    retiredAt: row.retired_at,
    basis: row.basis_from === null || row.basis_to === null ? null : { from: row.basis_from, to: row.basis_to },
  };
}

/** In rank order. */
export async function fleetList(db: Db): Promise<Fleet[]> {
  const { rows } = await db.query<Row>(`select ${COLUMNS} from fleet f order by f.rank, f.id limit 10001`);
  whole(rows, { most: 10_000, what: "fleets" });
  return rows.map(fleetOf);
}

export async function maybeFleet(db: Db, id: number): Promise<Fleet | null> {
  const { rows } = await db.query<Row>(`select ${COLUMNS} from fleet f where f.id = $1::integer`, [id]);
  return rows[0] ? fleetOf(rows[0]) : null;
}

/** Adds a fleet below all others; null when the name is taken, however it is written. */
export async function addFleet(db: Db, draft: FleetDraft): Promise<number | null> {
  const { rows } = await db.query<{ id: number }>(
    `insert into fleet (name, rank, draft)
     select $1::text, coalesce(max(rank), 0) + 1, $2::jsonb
     from fleet
     having coalesce(bool_and(lower(name) <> lower($1::text)), true)
     on conflict (name) do nothing
     returning id`,
    [draft.name, JSON.stringify(draft)],
  );
  return rows[0]?.id ?? null;
}

/** Which page writes, and its own count of its writes; null for what no page does. */
export type Writing = Readonly<{ editor: string; write: number }> | null;

/**
 * Saves a draft if nobody else wrote since `version`; the new version, or null when somebody did. A page is not
 * refused its own: what it wrote itself in between is no other's, and of two writes that cross the later stays.
 */
export async function saveDraft(
  db: Db,
  id: number,
  { draft, version, by = null }: { draft: FleetDraft; version: number; by?: Writing },
): Promise<number | null> {
  const { rows } = await db.query<{ version: number }>(
    `update fleet
     -- a fleet keeps its name, whatever a draft calls it
     set draft = jsonb_set($2::jsonb, '{name}', to_jsonb(name)), version = version + 1,
       draft_editor = $4::text, draft_seq = $5::bigint, draft_version = version + 1
     where id = $1::integer
       and (version = $3::integer or (draft_editor = $4::text and draft_version = version))
       and not (draft_editor is not distinct from $4::text and draft_version = version and coalesce(draft_seq >= $5::bigint, false))
     returning version`,
    [id, JSON.stringify(draft), version, by?.editor ?? null, by?.write ?? null],
  );
  if (rows[0] || !by) return rows[0]?.version ?? null;
  const { rows: later } = await db.query<{ version: number }>(
    `select version from fleet
     where id = $1::integer and draft_editor = $2::text and draft_version = version and draft_seq >= $3::bigint`,
    [id, by.editor, by.write],
  );
  return later[0]?.version ?? null;
}

/** A plan as it was put in force; without one where it was taken out of force. */
export type PlanVersion = Readonly<{ number: number; why: string; person: string; at: Instant; body: FleetDraft | null }>;

/** Puts a plan in force, leaves `draft` to go on from, and keeps `body` as the next numbered version; the fleet's new version, or null when somebody wrote since. */
export async function savePlanInForce(
  db: Db,
  id: number,
  {
    plan,
    draft,
    body,
    version,
    why,
    person,
    at,
  }: { plan: FleetPlan; draft: FleetDraft; body: FleetDraft; version: number; why: string; person: string; at: Instant },
): Promise<number | null> {
  const { rows } = await db.query<{ version: number }>(
    `update fleet
     set in_force = $2::jsonb, draft = $4::jsonb, version = version + 1
     where id = $1::integer and version = $3::integer
     returning version`,
    [id, JSON.stringify(plan), version, JSON.stringify(draft)],
  );
  if (!rows[0]) return null;
  await db.query(
    `insert into plan_version (fleet_id, number, body, why, person, at)
     select $1::integer, coalesce(max(number), 0) + 1, $2::jsonb, $3::text, $4::text, to_timestamp($5::double precision)
     from plan_version
     where fleet_id = $1::integer`,
    [id, JSON.stringify(body), why, person, at],
  );
  return rows[0].version;
}

/** Newest first. */
export async function planVersionList(db: Db, id: number): Promise<PlanVersion[]> {
  const { rows } = await db.query<Omit<PlanVersion, "body"> & { body: unknown }>(
    `select number, why, person, at, body
     from plan_version
     where fleet_id = $1::integer
     order by number desc
     limit 100`,
    [id],
  );
  return rows.map((row) => ({ ...row, body: row.body === null ? null : fleetDraftSchema.parse(row.body) }));
}

/** A plan as it was put in force, with the schedule it was put in force with, and when that was. */
export type PlanThen = Readonly<{ draft: FleetDraft; at: Instant }>;

/** The plans that were in force at an instant, by the fleet's number. */
export async function plansAt(db: Db, at: Instant): Promise<Map<number, PlanThen>> {
  const { rows } = await db.query<{ id: number; body: unknown; at: Instant }>(
    `select id, body, at
     from (
       select distinct on (fleet_id) fleet_id as id, body, at
       from plan_version
       where at <= to_timestamp($1::double precision)
       order by fleet_id, number desc
       limit 10001
     ) as last
     -- one that was taken out of force has none
     where body is not null`,
    [at],
  );
  whole(rows, { most: 10_000, what: "fleets" });
  return new Map(rows.map(({ id, body, at: since }) => [id, { draft: fleetDraftSchema.parse(body), at: since }]));
}

/** Sets the days a fleet is compared with, or goes back to those before its first plan. */
export async function saveBasis(db: Db, id: number, basis: Fleet["basis"]): Promise<boolean> {
  const { rowCount } = await db.query("update fleet set basis_from = $2::date, basis_to = $3::date where id = $1::integer", [
    id,
    basis?.from ?? null,
    basis?.to ?? null,
  ]);
  return rowCount === 1;
}
