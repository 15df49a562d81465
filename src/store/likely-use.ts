import type { Instant } from "@/core/time";
import type { Db } from "./pool";

/** What was learned of a fleet's coming weeks, from those before it. */
export type LikelyUse = Readonly<{
  learnedAt: Instant;
  /** Of a pool: how many were in use in each quarter of local weeks, week by week; null where nothing is known. */
  inUse: readonly (readonly (number | null)[])[] | null;
  /** Of idle alarms: seconds in each UTC hour of the week in which one of its machines would be on without them, and those that they take off. */
  idle: Readonly<{ onS: readonly number[]; offS: readonly number[] }> | null;
}>;

const FLEETS_MAX = 10_000;

/** What was known by an instant, by the fleet's name of now; null: what is known by now. */
export async function likelyUseList(db: Db, at: Instant | null = null): Promise<ReadonlyMap<string, LikelyUse>> {
  const { rows } = await db.query<LikelyUse & { fleet: string }>(
    `select f.name as fleet, extract(epoch from l.learned_at)::double precision as "learnedAt", l.in_use as "inUse", l.idle
     from fleet f
     cross join lateral (
       select learned_at, in_use, idle
       from likely_use
       where fleet_id = f.id and ($2::double precision is null or learned_at <= to_timestamp($2::double precision))
       order by learned_at desc
       limit 1) as l
     limit $1::integer`,
    [FLEETS_MAX, at],
  );
  return new Map(rows.map(({ fleet, ...use }) => [fleet, use]));
}

/** Keeps what was learned of a fleet beside what was known before. */
export async function saveLikelyUse(db: Db, fleetId: number, { learnedAt, inUse, idle }: LikelyUse): Promise<void> {
  await db.query(
    `insert into likely_use (fleet_id, learned_at, in_use, idle)
     values ($1::integer, to_timestamp($2::double precision), $3::jsonb, $4::jsonb)
     on conflict (fleet_id, learned_at) do update set in_use = excluded.in_use, idle = excluded.idle`,
    [fleetId, learnedAt, inUse && JSON.stringify(inUse), idle && JSON.stringify(idle)],
  );
}

/** Forgets what was learned before an instant, but for the last of each fleet. */
export async function forgetLikelyUse(db: Db, before: Instant): Promise<void> {
  await db.query(
    `delete from likely_use l
     where l.learned_at < to_timestamp($1::double precision)
       and exists (select from likely_use later where later.fleet_id = l.fleet_id and later.learned_at > l.learned_at)`,
    [before],
  );
}
