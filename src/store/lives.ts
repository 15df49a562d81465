import type { Level } from "@/core/hours";
import type { ResourceState } from "@/core/plan";
import type { LifeSpan } from "@/core/spend";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";

/** Lives by resource, in order of time and without gaps. */
export type Lives = ReadonlyMap<string, readonly LifeSpan[]>;

/**
 * Lives from the feed, from before `from` where a state or a run that goes on began, up to `to`; of
 * some resources, or of everything the feed tells of where `ids` is null.
 */
export async function livesOf(
  db: Db,
  ids: readonly string[] | null,
  { from, to }: { from: Instant; to: Instant },
): Promise<Map<string, LifeSpan[]>> {
  const { rows } = await db.query<{ resource_id: string; at: Instant; state: ResourceState; level: Level }>(
    `with own as (
       select id, coalesce(
         (select least(c.at, c.run_since)
          from state_change c
          where c.resource_id = id and c.at <= to_timestamp($2::double precision)
          order by c.at desc, c.source desc, c.n desc
          limit 1),
         to_timestamp($2::double precision)) as since
       from (
         select unnest($1::text[]) as id
         union all
         select id from resource where $1::text[] is null
       ) as asked
     )
     select c.resource_id, extract(epoch from c.at)::integer as at, c.state, c.level
     from own
     join state_change c on c.resource_id = own.id and c.at >= own.since and c.at < to_timestamp($3::double precision)
     order by c.resource_id, c.at, c.source, c.n`,
    [ids, from, to],
  );
  const lives = new Map<string, LifeSpan[]>();
  rows.forEach((row, i) => {
    const next = rows[i + 1];
    const end = next?.resource_id === row.resource_id ? next.at : to;
    if (end <= row.at) return;
    const span = { from: row.at, to: end, state: row.state, level: row.level };
    const life = lives.get(row.resource_id);
    if (life) life.push(span);
    else lives.set(row.resource_id, [span]);
  });
  return lives;
}

/** The resources of which transactions from `horizon` on told something, each with the earliest instant of it. */
export async function newsSince(db: Db, horizon: string): Promise<Map<string, Instant>> {
  const { rows } = await db.query<{ id: string; at: Instant }>(
    `select resource_id as id, extract(epoch from min(at))::integer as at
     from state_change
     where told_in >= $1::text::xid8
     group by resource_id`,
    [horizon],
  );
  return new Map(rows.map(({ id, at }) => [id, at]));
}
