import type { Level } from "@/core/hours";
import { OUTCOMES, type Verb } from "@/core/rounds";
import type { Instant } from "@/core/time";
import type { Action } from "./actions";
import type { Db } from "./pool";
import { whole } from "./whole";

/** One thing that was done, with who asked for it and why, and what came of it. */
export type ActionLine = Readonly<{
  id: number;
  roundId: number;
  resourceId: string;
  name: string;
  fleet: string | null;
  askedBy: string;
  verb: Verb;
  level: Level;
  status: Action["status"];
  why: string;
  lastAnswer: string;
  attempts: number;
  recordedAt: Instant;
  sentAt: Instant | null;
  endedAt: Instant | null;
}>;

export type ActionQuery = Readonly<{
  /** Of this resource alone; null: of any. */
  resourceId: string | null;
  /** Part of a machine's name, a fleet's or a person's; empty: all. */
  text: string;
  /** How it ended; empty: however. */
  status: string;
  from: Instant | null;
  to: Instant | null;
  /** Only those before this one; where a page goes on. */
  before: number | null;
  limit: number;
}>;

/** From so many matching machines on the actions are looked through; up to it each machine is asked for its own. */
const MACHINES_ASKED = 2_000;

/**
 * What was done, the last first. Each way of matching reads no more of its index than a page, so that a search
 * takes as long over millions as over thousands.
 */
export async function searchActions(db: Db, query: ActionQuery): Promise<ActionLine[]> {
  const text = query.text.toLowerCase();
  const found = query.resourceId !== null ? [query.resourceId] : text === "" ? [] : await machinesNamed(db, text);
  const isMany = found.length > MACHINES_ASKED;
  const ways =
    query.resourceId !== null
      ? [OF_MACHINES]
      : text === ""
        ? [OF_ANY]
        : [isMany ? OF_MANY_MACHINES : OF_MACHINES, OF_FLEETS, OF_PERSON];
  const { rows } = await db.query<ActionLine>(
    `with recursive outcome as (
       select unnest($1::text[]) as status
     ), place as (
       select recorded_at, id from action where id = $4::integer
     ), fleet_name as (
       (select min(fleet) as name from action)
       union all
       select (select min(fleet) from action where fleet > fleet_name.name) from fleet_name where fleet_name.name is not null
     ), hit as materialized (
       select id from (${ways.map((way) => `(${way})`).join(" union ")}) as each_way
       order by recorded_at desc, id desc
       limit $5::integer
     )
     select a.id, a.round_id as "roundId", a.resource_id as "resourceId", coalesce(r.name, a.resource_id) as name, a.fleet,
       a.asked_by as "askedBy", a.verb, a.level, a.status, a.why, a.last_answer as "lastAnswer", a.attempts,
       a.recorded_at as "recordedAt", a.sent_at as "sentAt", a.ended_at as "endedAt"
     from hit
     join action a on a.id = hit.id
     left join resource r on r.id = a.resource_id
     -- a search that does not go by them still says what they are
     where $6::text[] is not null and $7::text is not null
     order by a.recorded_at desc, a.id desc
     limit $5::integer`,
    [query.status === "" ? OUTCOMES : [query.status], query.from, query.to, query.before, query.limit, found, text],
  );
  return rows;
}

/** The machines that have the text in their names, whether or not they are still there. */
async function machinesNamed(db: Db, text: string): Promise<string[]> {
  const { rows } = await db.query<{ id: string }>(
    "select id from resource where strpos(lower(name), $1::text) > 0 limit 100001",
    [text],
  );
  return whole(rows, { most: 100_000, what: "machines of that name" }).map(({ id }) => id);
}

const IN_TIME = `
  ($2::double precision is null or a.recorded_at >= to_timestamp($2::double precision))
  and ($3::double precision is null or a.recorded_at < to_timestamp($3::double precision))
  and ($4::integer is null or (a.recorded_at, a.id) < (select recorded_at, id from place))`;
const PAGE = "order by a.recorded_at desc, a.id desc limit $5::integer";

const OF_ANY = `
  select each.id, each.recorded_at
  from outcome
  cross join lateral (select a.id, a.recorded_at from action a where a.status = outcome.status and ${IN_TIME} ${PAGE}) as each`;
const OF_MACHINES = `
  select each.id, each.recorded_at
  from unnest($6::text[]) as machine (id)
  cross join lateral (
    select a.id, a.recorded_at from action a where a.resource_id = machine.id and a.status = any ($1::text[]) and ${IN_TIME} ${PAGE}
  ) as each`;
const OF_MANY_MACHINES = `
  select each.id, each.recorded_at
  from outcome
  cross join lateral (
    select a.id, a.recorded_at from action a
    where a.status = outcome.status and a.resource_id in (select unnest($6::text[])) and ${IN_TIME} ${PAGE}
  ) as each`;
const OF_FLEETS = `
  select each.id, each.recorded_at
  from outcome
  join fleet_name on strpos(lower(fleet_name.name), $7::text) > 0
  cross join lateral (
    select a.id, a.recorded_at from action a where a.fleet = fleet_name.name and a.status = outcome.status and ${IN_TIME} ${PAGE}
  ) as each`;
const OF_PERSON = `
  select each.id, each.recorded_at
  from outcome
  cross join lateral (
    select a.id, a.recorded_at from action a where lower(a.asked_by) = $7::text and a.status = outcome.status and ${IN_TIME} ${PAGE}
  ) as each`;
