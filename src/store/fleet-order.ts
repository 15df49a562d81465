import type { Instant } from "@/core/time";
import type { Db } from "./pool";

/** The fleets in the order in which they claimed at an instant, by number; null where that is today's. Later fleets follow by rank. */
export async function orderAt(db: Db, at: Instant): Promise<readonly number[] | null> {
  const { rows } = await db.query<{ ids: number[] }>(
    `select fleet_ids as ids
     from fleet_order
     where at <= to_timestamp($1::double precision)
     order by at desc, id desc
     limit 1`,
    [at],
  );
  return rows[0]?.ids ?? null;
}

export type NewOrder = Readonly<{ before: readonly number[]; ids: readonly number[]; person: string; why: string; at: Instant }>;

/** Ranks fleets anew and remembers since when. `before` is the order until now, kept for what was before the first change. */
export async function saveOrder(db: Db, { before, ids, person, why, at }: NewOrder): Promise<void> {
  await db.query(
    `insert into fleet_order (at, person, why, fleet_ids)
     select '-infinity', '', '', $1::integer[]
     where not exists (select from fleet_order)`,
    [before],
  );
  await db.query(
    "insert into fleet_order (at, person, why, fleet_ids) values (to_timestamp($1::double precision), $2::text, $3::text, $4::integer[])",
    [at, person, why, ids],
  );
  await db.query(
    `update fleet f set rank = place.rank
     from unnest($1::integer[]) with ordinality as place (id, rank)
     where f.id = place.id`,
    [ids],
  );
}
