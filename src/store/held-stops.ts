import type { HeldStop, HeldStops } from "@/core/rounds";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { RESOURCES_MAX } from "./resources";
import { whole } from "./whole";

/** The stops that are held until a person has said yes or no, by resource. */
export async function heldStops(db: Db): Promise<HeldStops> {
  const { rows } = await db.query<{ id: string; since: Instant; reason: HeldStop["reason"]; limit: number | null }>(
    `select resource_id as id, since, reason, stop_limit as "limit" from held_stop limit ${RESOURCES_MAX + 1}`,
  );
  return new Map(
    whole(rows, { most: RESOURCES_MAX, what: "held stops" }).map(({ id, ...stop }) => [id, stop as HeldStop] as const),
  );
}

/** Writes down what is held and what is held no more (null). A trip that is held never counts as usual, whatever becomes of it. */
export async function saveHeldStops(db: Db, stops: ReadonlyMap<string, HeldStop | null>): Promise<void> {
  const over = [...stops].flatMap(([id, stop]) => (stop === null ? [id] : []));
  await releaseStops(db, over);
  const held = [...stops].flatMap(([id, stop]) => (stop === null ? [] : [{ id, ...stop }]));
  if (held.length === 0) return;
  await db.query(
    `insert into held_stop (resource_id, since, reason, stop_limit)
     select id, to_timestamp(since), reason, stop_limit
     from unnest($1::text[], $2::double precision[], $3::text[], $4::integer[]) as line (id, since, reason, stop_limit)
     on conflict (resource_id) do nothing`,
    [held.map(({ id }) => id), held.map(({ since }) => since), held.map(({ reason }) => reason), held.map(({ limit }) => limit)],
  );
  await db.query(
    `update alarm_change c set is_held = true
     from (
       select distinct on (resource_id) id from alarm_change
       where resource_id = any ($1::text[]) and state = 'tripped'
       order by resource_id, at desc, id desc
     ) as last
     where c.id = last.id`,
    [held.map(({ id }) => id)],
  );
}

/** They are held no more: a person has spoken, or nothing wants them off. */
export async function releaseStops(db: Db, ids: readonly string[]): Promise<void> {
  if (ids.length > 0) await db.query("delete from held_stop where resource_id = any ($1::text[])", [ids]);
}

/** The trips whose stops were held and are not any more are to be told of again: now they are done. */
export async function tellHeldAgain(db: Db, ids: readonly string[]): Promise<void> {
  await db.query(
    `update alarm_change c set is_told = false
     from (
       select distinct on (resource_id) id from alarm_change
       where resource_id = any ($1::text[]) and state = 'tripped' and is_held
       order by resource_id, at desc, id desc
     ) as last
     where c.id = last.id`,
    [ids],
  );
}

/** Nobody is told any more of trips that were refused before they were told of. */
export async function hushTrips(db: Db, ids: readonly string[]): Promise<void> {
  await db.query(
    "update alarm_change set is_told = true where resource_id = any ($1::text[]) and state = 'tripped' and not is_told",
    [ids],
  );
}
