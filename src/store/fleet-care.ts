import type { Instant } from "@/core/time";
import type { Db } from "./pool";

export type OutOfForce = Readonly<{ version: number; why: string; person: string; at: Instant; isRetired: boolean }>;

/** Takes a fleet's plan out of force, and out of the lists where it is retired; its draft stays. False when somebody wrote since `version`. */
export async function saveOutOfForce(db: Db, id: number, { version, why, person, at, isRetired }: OutOfForce): Promise<boolean> {
  const { rows } = await db.query<{ had: boolean }>(
    `update fleet f
     set in_force = null, version = f.version + 1,
       retired_at = case when $4::boolean then to_timestamp($3::double precision) else f.retired_at end
     from fleet old
     where f.id = $1::integer and old.id = f.id and f.version = $2::integer
     returning old.in_force is not null as had`,
    [id, version, at, isRetired],
  );
  if (!rows[0]) return false;
  if (rows[0].had)
    await db.query(
      `insert into plan_version (fleet_id, number, body, why, person, at)
       select $1::integer, coalesce(max(number), 0) + 1, null, $2::text, $3::text, to_timestamp($4::double precision)
       from plan_version
       where fleet_id = $1::integer`,
      [id, why, person, at],
    );
  return true;
}

/** Puts a retired fleet back into the lists, below all others, as a draft. False where there is none. */
export async function saveBroughtBack(db: Db, id: number): Promise<boolean> {
  const { rowCount } = await db.query(
    `update fleet
     set retired_at = null, version = version + 1, rank = (select max(rank) + 1 from fleet)
     where id = $1::integer and retired_at is not null`,
    [id],
  );
  return rowCount === 1;
}

/**
 * Gives a fleet another name; its holds, savings and what rounds remember of it follow. What the journal told stays
 * as it was told. False where the name is taken or somebody wrote since `version`.
 */
export async function saveName(db: Db, id: number, { name, version }: { name: string; version: number }): Promise<boolean> {
  const { rows } = await db.query<{ old: string }>(
    `update fleet f
     set name = $2::text, version = f.version + 1, draft = jsonb_set(f.draft, '{name}', to_jsonb($2::text)),
       in_force = jsonb_set(f.in_force, '{name}', to_jsonb($2::text))
     from fleet old
     where f.id = $1::integer and old.id = f.id and f.version = $3::integer
       and not exists (select from fleet other where other.id <> $1::integer and lower(other.name) = lower($2::text))
     returning old.name as old`,
    [id, name, version],
  );
  if (!rows[0]) return false;
  for (const table of ["realised_day", "lever_day", "hours_seen", "alarm", "alarm_pause", "alarm_change"])
    await db.query(`update ${table} set fleet = $2::text where fleet = $1::text`, [rows[0].old, name]);
  return true;
}
