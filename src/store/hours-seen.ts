import type { Level } from "@/core/hours";
import type { HoursObserved } from "@/core/rounds";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";

/** What hours said at the last finished round, by resource. */
export async function hoursSeenMap(db: Db): Promise<Map<string, HoursObserved>> {
  const { rows } = await db.query<{
    id: string;
    fleet: string;
    since: Instant;
    level: Level | null;
    foreseen_since: Instant | null;
  }>("select resource_id as id, fleet, since, level, foreseen_since from hours_seen");
  return new Map(rows.map(({ id, foreseen_since, ...row }) => [id, { ...row, foreseenSince: foreseen_since }]));
}

/** Remembers what is new; null: it is forgotten, since no fleet has it. */
export async function saveHoursSeen(db: Db, seen: ReadonlyMap<string, HoursObserved | null>): Promise<void> {
  const gone = [...seen].flatMap(([id, one]) => (one === null ? [id] : []));
  if (gone.length > 0) await db.query("delete from hours_seen where resource_id = any ($1::text[])", [gone]);
  const kept = [...seen].flatMap(([id, one]) => (one === null ? [] : [{ id, ...one }]));
  if (kept.length === 0) return;
  await db.query(
    `insert into hours_seen (resource_id, fleet, since, level, foreseen_since)
     select id, fleet, to_timestamp(since), level, to_timestamp(foreseen)
     from unnest($1::text[], $2::text[], $3::double precision[], $4::integer[], $5::double precision[])
       as line (id, fleet, since, level, foreseen)
     on conflict (resource_id) do update set
       fleet = excluded.fleet, since = excluded.since, level = excluded.level, foreseen_since = excluded.foreseen_since`,
    [
      kept.map(({ id }) => id),
      kept.map(({ fleet }) => fleet),
      kept.map(({ since }) => since),
      kept.map(({ level }) => level),
      kept.map(({ foreseenSince }) => foreseenSince),
    ],
  );
}
