import type { Asked, Verb } from "@/core/rounds";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";

/** A rise from off to on, as the provider told it. */
export type Rise = Readonly<{ resourceId: string; at: Instant; note: string }>;

/**
 * The last rise of each of the resources since an instant, of those that had one. What is told of for the first
 * time has not risen: nobody knows what it was before.
 */
export async function risesSince(db: Db, ids: readonly string[], since: Instant): Promise<Rise[]> {
  const { rows } = await db.query<Rise>(
    `select distinct on (c.resource_id) c.resource_id as "resourceId", c.at, c.note
     from state_change c
     where c.resource_id = any ($1::text[]) and c.at > to_timestamp($2::double precision)
       and c.state in ('starting', 'running')
       and (select before.state
            from state_change before
            where before.resource_id = c.resource_id and (before.at, before.source, before.n) < (c.at, c.source, c.n)
            order by before.at desc, before.source desc, before.n desc
            limit 1) not in ('starting', 'running', 'stopping')
     order by c.resource_id, c.at desc, c.source desc, c.n desc`,
    [ids, since],
  );
  return rows;
}

/** What was sent for each of the resources and had not ended before an instant. */
export async function askedSince(db: Db, ids: readonly string[], since: Instant): Promise<Map<string, Asked[]>> {
  const { rows } = await db.query<{ id: string; verb: Verb; sentAt: Instant | null; endedAt: Instant | null }>(
    `select resource_id as id, verb, sent_at as "sentAt", ended_at as "endedAt"
     from action
     where resource_id = any ($1::text[]) and sent_at is not null
       and coalesce(ended_at, 'infinity') >= to_timestamp($2::double precision)`,
    [ids, since],
  );
  const asked = new Map<string, Asked[]>();
  for (const { id, ...one } of rows) asked.set(id, [...(asked.get(id) ?? []), one]);
  return asked;
}

/** The starts that were kept before, ended or not, as `resource id` and instant. */
export async function keptStarts(db: Db, ids: readonly string[], since: Instant): Promise<Set<string>> {
  const { rows } = await db.query<{ id: string; at: Instant }>(
    `select resource_id as id, from_at as at from override
     where kind = 'start' and resource_id = any ($1::text[]) and from_at >= to_timestamp($2::double precision)`,
    [ids, since],
  );
  return new Set(rows.map(({ id, at }) => `${id} ${at}`));
}

/** A person's start that is kept, with whose it is. */
export type KeptStart = Readonly<{
  id: number;
  resourceId: string;
  name: string;
  owner: string | null;
  from: Instant;
  to: Instant;
  reason: string;
}>;

/** Takes starts that were not told of; each is given out once. To be called in the transaction that puts the telling on its way. */
export async function takeUntoldStarts(db: Db, limit: number): Promise<KeptStart[]> {
  // Most of the time there is nothing, and even an update of no row says that holds have changed.
  const { rowCount } = await db.query("select from override where not is_told limit 1");
  if (rowCount === 0) return [];
  const { rows } = await db.query<KeptStart>(
    `with taken as (
       update override set is_told = true
       where id = any (array(select id from override where not is_told order by id limit $1::integer for update skip locked))
       returning id, resource_id, from_at, to_at, reason
     )
     select t.id, t.resource_id as "resourceId", r.name, r.tags ->> 'owner' as owner, t.from_at as "from", t.to_at as "to", t.reason
     from taken t
     join resource r on r.id = t.resource_id
     order by t.id`,
    [limit],
  );
  return rows;
}
