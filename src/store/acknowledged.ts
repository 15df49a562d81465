import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { whole } from "./whole";

/** A stray that somebody says is meant, up to the end of a UTC day, `YYYY-MM-DD`. */
export type Acknowledged = Readonly<{ stray: string; untilDay: string; reason: string; person: string; at: Instant }>;

/** Those that still hold on a day, the first to end first. */
export async function acknowledgedList(db: Db, day: string): Promise<Acknowledged[]> {
  const { rows } = await db.query<Acknowledged>(
    `select stray, until_day as "untilDay", reason, person, at
     from acknowledged
     where until_day >= $1::date
     order by until_day, stray
     limit 100001`,
    [day],
  );
  whole(rows, { most: 100_000, what: "strays that are meant" });
  return rows;
}

export async function saveAcknowledged(db: Db, { stray, untilDay, reason, person, at }: Acknowledged): Promise<void> {
  await db.query(
    `insert into acknowledged (stray, until_day, reason, person, at)
     values ($1::text, $2::date, $3::text, $4::text, to_timestamp($5::double precision))
     on conflict (stray) do update
       set until_day = excluded.until_day, reason = excluded.reason, person = excluded.person, at = excluded.at`,
    [stray, untilDay, reason, person, at],
  );
}

export async function removeAcknowledged(db: Db, stray: string): Promise<boolean> {
  const { rowCount } = await db.query("delete from acknowledged where stray = $1::text", [stray]);
  return rowCount === 1;
}
