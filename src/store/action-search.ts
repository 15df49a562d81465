import type { Level } from "@/core/hours";
import type { Verb } from "@/core/rounds";
import type { Instant } from "@/core/time";
import type { Action } from "./actions";
import type { Db } from "./pool";

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

/** What was done, the last first. */
export async function searchActions(db: Db, query: ActionQuery): Promise<ActionLine[]> {
  const { rows } = await db.query<ActionLine>(
    `select a.id, a.round_id as "roundId", a.resource_id as "resourceId", coalesce(r.name, a.resource_id) as name, d.fleet,
       ro.asked_by as "askedBy", a.verb, a.level, a.status, coalesce(d.why, '') as why, a.last_answer as "lastAnswer", a.attempts,
       a.recorded_at as "recordedAt", a.sent_at as "sentAt", a.ended_at as "endedAt"
     from action a
     join round ro on ro.id = a.round_id
     left join resource r on r.id = a.resource_id
     left join lateral (
       select fleet, why
       from decision d
       where d.resource_id = a.resource_id and d.round_id <= a.round_id and not d.is_rehearsal
       order by d.round_id desc
       limit 1
     ) d on true
     where ($1::text = '' or strpos(lower(coalesce(r.name, a.resource_id)), $1::text) > 0 or strpos(lower(d.fleet), $1::text) > 0
         or lower(ro.asked_by) = $1::text)
       and ($2::text = '' or a.status = $2::text)
       and ($3::double precision is null or a.recorded_at >= to_timestamp($3::double precision))
       and ($4::double precision is null or a.recorded_at < to_timestamp($4::double precision))
       and ($5::integer is null or a.id < $5::integer)
       and ($7::text is null or a.resource_id = $7::text)
     order by a.id desc
     limit $6::integer`,
    [query.text.toLowerCase(), query.status, query.from, query.to, query.before, query.limit, query.resourceId],
  );
  return rows;
}
