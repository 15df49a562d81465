import type { Instant } from "@/core/time";
import type { Db } from "./pool";

/** Rounds do nothing while it stands; `account` null: anywhere. */
export type Pause = Readonly<{ id: number; account: string | null; reason: string; person: string; at: Instant }>;

/** Those that stand, the one for everything first. */
export async function pauseList(db: Db): Promise<Pause[]> {
  const { rows } = await db.query<Pause>(
    "select id, account, reason, person, at from pause where ended_at is null order by account nulls first",
  );
  return rows;
}

/** False where one stands there already. */
export async function addPause(db: Db, { account, reason, person, at }: Omit<Pause, "id">): Promise<boolean> {
  const { rowCount } = await db.query(
    `insert into pause (account, reason, person, at)
     values ($1::text, $2::text, $3::text, to_timestamp($4::double precision))
     on conflict do nothing`,
    [account, reason, person, at],
  );
  return rowCount === 1;
}

/** False where it was ended already. */
export async function endPause(db: Db, id: number, { person, at }: { person: string; at: Instant }): Promise<boolean> {
  const { rowCount } = await db.query(
    `update pause set ended_by = $2::text, ended_at = to_timestamp($3::double precision)
     where id = $1::integer and ended_at is null`,
    [id, person, at],
  );
  return rowCount === 1;
}
