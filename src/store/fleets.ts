import { type FleetDraft, type FleetPlan, fleetDraftSchema, fleetSchema } from "@/core/plan";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";

export type Fleet = Readonly<{
  id: number;
  name: string;
  rank: number;
  version: number;
  draft: FleetDraft;
  inForce: FleetPlan | null;
}>;

type Row = { id: number; name: string; rank: number; version: number; draft: unknown; in_force: unknown };

function fleetOf(row: Row): Fleet {
  return {
    id: row.id,
    name: row.name,
    rank: row.rank,
    version: row.version,
    draft: fleetDraftSchema.parse(row.draft),
    inForce: row.in_force === null ? null : fleetSchema.parse(row.in_force),
  };
}

/** In rank order. */
export async function fleetList(db: Db): Promise<Fleet[]> {
  const { rows } = await db.query<Row>(
    "select id, name, rank, version, draft, in_force from fleet order by rank, id limit 10000",
  );
  return rows.map(fleetOf);
}

export async function maybeFleet(db: Db, id: number): Promise<Fleet | null> {
  const { rows } = await db.query<Row>("select id, name, rank, version, draft, in_force from fleet where id = $1::integer", [id]);
  return rows[0] ? fleetOf(rows[0]) : null;
}

/** Adds a fleet below all others; null when the name is taken. */
export async function addFleet(db: Db, draft: FleetDraft): Promise<number | null> {
  const { rows } = await db.query<{ id: number }>(
    `insert into fleet (name, rank, draft)
     select $1::text, coalesce(max(rank), 0) + 1, $2::jsonb
     from fleet
     on conflict (name) do nothing
     returning id`,
    [draft.name, JSON.stringify(draft)],
  );
  return rows[0]?.id ?? null;
}

/** Saves a draft if nobody else wrote since `version`; the new version, or null when somebody did. */
export async function saveDraft(
  db: Db,
  id: number,
  { draft, version }: { draft: FleetDraft; version: number },
): Promise<number | null> {
  const { rows } = await db.query<{ version: number }>(
    `update fleet
     -- a fleet keeps its name, whatever a draft calls it
     set draft = jsonb_set($2::jsonb, '{name}', to_jsonb(name)), version = version + 1
     where id = $1::integer and version = $3::integer
     returning version`,
    [id, JSON.stringify(draft), version],
  );
  return rows[0]?.version ?? null;
}

export type PlanVersion = Readonly<{ number: number; why: string; person: string; at: Instant; body: FleetDraft }>;

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
  return rows.map((row) => ({ ...row, body: fleetDraftSchema.parse(row.body) }));
}

/** The plans that were in force at an instant, by the fleet's number, with the schedule each was put in force with. */
export async function plansAt(db: Db, at: Instant): Promise<Map<number, FleetDraft>> {
  const { rows } = await db.query<{ id: number; body: unknown }>(
    `select distinct on (fleet_id) fleet_id as id, body
     from plan_version
     where at <= to_timestamp($1::double precision)
     order by fleet_id, number desc
     limit 10000`,
    [at],
  );
  return new Map(rows.map(({ id, body }) => [id, fleetDraftSchema.parse(body)]));
}
