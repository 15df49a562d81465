import type { MixGap, Part } from "@/core/mix";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { whole } from "./whole";

const GAPS_MAX = 100_000;

export type GapCause = "evicted" | "gone" | "unhealthy" | "over its cap" | "wanted";

export type NewGap = Readonly<{
  groupId: string;
  fleet: string;
  cause: GapCause;
  memberId: string | null;
  pool: string | null;
  noticedAt: Instant | null;
  since: Instant;
  units: number;
  diskId: string | null;
}>;

export async function addGap(db: Db, gap: NewGap): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into mix_gap (group_id, fleet, cause, member_id, pool, noticed_at, since, units, whole, disk_id)
     values ($1::text, $2::text, $3::text, $4::text, $5::text, to_timestamp($6::double precision),
       to_timestamp($7::double precision), $8::integer, $8::integer, $9::text)
     returning id::double precision as id`,
    [gap.groupId, gap.fleet, gap.cause, gap.memberId, gap.pool, gap.noticedAt, gap.since, gap.units, gap.diskId],
  );
  return (rows[0] as { id: number }).id;
}

/** The gaps that something is still to be ordered for, by group. */
export async function openGaps(db: Db): Promise<Map<string, MixGap[]>> {
  const { rows } = await db.query<MixGap & { groupId: string }>(
    `select id::double precision as id, group_id as "groupId", units, extract(epoch from since)::double precision as since,
       disk_id as disk
     from mix_gap
     where closed_at is null and units > 0
     order by since, id
     limit ${GAPS_MAX + 1}`,
  );
  const byGroup = new Map<string, MixGap[]>();
  for (const { groupId, ...gap } of whole(rows, { most: GAPS_MAX, what: "gaps of mixes" })) {
    const own = byGroup.get(groupId) ?? [];
    own.push(gap);
    byGroup.set(groupId, own);
  }
  return byGroup;
}

/**
 * What of a gap is still to be ordered. With nothing left it waits for what was ordered to be up (`closeFilledGaps`), and is closed
 * at once where nothing was: it is called off.
 */
export async function setGap(
  db: Db,
  id: number,
  { units, at, filledBy }: Readonly<{ units: number; at: Instant; filledBy: string | null }>,
): Promise<void> {
  await db.query(
    `update mix_gap set units = $2::integer, filled_by = coalesce($4::text, filled_by),
       ordered_at = case when $2::integer = 0 and coalesce($4::text, filled_by) is not null
         then to_timestamp($3::double precision) end,
       closed_at = case when $2::integer = 0 and coalesce($4::text, filled_by) is null
         then to_timestamp($3::double precision) end
     where id = $1::bigint`,
    [id, units, at, filledBy],
  );
}

/** Closes the gaps of which all that was ordered is up, or lost since and a gap of its own; `up`: since when each member is. */
export async function closeFilledGaps(db: Db, up: ReadonlyMap<string, Instant>): Promise<void> {
  await db.query(
    `with up as (select * from unnest($1::text[], $2::double precision[]) as one (id, at)),
       filled as (
         select g.id, bool_and(m.ended_at is not null or up.id is not null) as is_whole,
           max(coalesce(up.at, extract(epoch from m.ended_at))) as at
         from mix_gap g
         join mix_order o on o.group_id = g.group_id and g.id = any (o.gaps) and o.status = 'accepted'
         join mix_member m on m.resource_id = o.member_id
         left join up on up.id = m.resource_id
         where g.closed_at is null and g.units = 0
         group by g.id)
     update mix_gap g set closed_at = greatest(to_timestamp(filled.at), g.since)
     from filled
     where filled.id = g.id and filled.is_whole`,
    [[...up.keys()], [...up.values()]],
  );
}

/** Opens the gaps again that a machine of so many units was to fill which never came: they are as old as they were. Returns them. */
export async function reopenGaps(db: Db, memberId: string, units: number): Promise<MixGap[]> {
  const { rows } = await db.query<MixGap & { room: number }>(
    `select id::double precision as id, units, whole - units as room, extract(epoch from since)::double precision as since,
       disk_id as disk
     from mix_gap
     where id = any (array(select unnest(gaps) from mix_order where member_id = $1::text and kind = 'order')) and units < whole
     order by since, id
     for update`,
    [memberId],
  );
  let left = units;
  const reopened: MixGap[] = [];
  for (const { room, ...gap } of rows) {
    const more = Math.min(left, room);
    if (more === 0) break;
    left -= more;
    reopened.push({ ...gap, units: gap.units + more });
  }
  await db.query(
    `update mix_gap g set units = line.units, closed_at = null, ordered_at = null, filled_by = null
     from unnest($1::bigint[], $2::integer[]) as line (id, units)
     where g.id = line.id`,
    [reopened.map(({ id }) => id), reopened.map((gap) => gap.units)],
  );
  return reopened;
}

/** One gap from its beginning to its end, with what took its place. */
export type GapStory = Readonly<{
  id: number;
  cause: GapCause;
  memberId: string | null;
  pool: string | null;
  noticedAt: Instant | null;
  since: Instant;
  units: number;
  /** When all of it was on its way; null while some is not, or it was called off. */
  orderedAt: Instant | null;
  /** When what took its place was up, or it was called off. */
  closedAt: Instant | null;
  filledBy: string | null;
  filledPool: string | null;
  filledPart: Part | null;
  /** When what took its place ran. */
  ranAt: Instant | null;
  /** How often an order for its group was refused in between. */
  refusals: number;
}>;

/** The gaps of a group in `[from, to)`, the latest first; rises of what is wanted left out. */
export async function gapStories(
  db: Db,
  groupIds: readonly string[],
  { from, to, most }: Readonly<{ from: Instant; to: Instant; most: number }>,
): Promise<(GapStory & { groupId: string })[]> {
  const { rows } = await db.query<GapStory & { groupId: string }>(
    `select g.id::double precision as id, g.group_id as "groupId", g.cause, g.member_id as "memberId", g.pool,
       extract(epoch from g.noticed_at)::double precision as "noticedAt", extract(epoch from g.since)::double precision as since,
       g.whole as units, extract(epoch from g.ordered_at)::double precision as "orderedAt",
       extract(epoch from g.closed_at)::double precision as "closedAt", g.filled_by as "filledBy",
       m.pool as "filledPool", m.part as "filledPart",
       (select extract(epoch from min(c.at))::double precision from state_change c
        where c.resource_id = g.filled_by and c.state = 'running' and c.at >= g.since) as "ranAt",
       (select count(*)::integer from mix_order o
        where o.group_id = g.group_id and o.status = 'refused' and o.recorded_at >= g.since
          and o.recorded_at <= coalesce(g.ordered_at, g.closed_at, to_timestamp($3::double precision))) as refusals
     from mix_gap g
     left join mix_member m on m.resource_id = g.filled_by
     where g.group_id = any ($1::text[]) and g.cause <> 'wanted'
       and g.since >= to_timestamp($2::double precision) and g.since < to_timestamp($3::double precision)
     order by g.since desc, g.id desc
     limit $4::integer`,
    [groupIds, from, to, most],
  );
  return rows;
}
