import type { Part, StepCause, UnhealthyCare } from "@/core/mix";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { whole } from "./whole";

/** A machine that a mix was given. */
export type MixMember = Readonly<{
  resourceId: string;
  groupId: string;
  part: Part;
  pool: string | null;
  units: number;
  orderedAt: Instant;
}>;

const MEMBERS_MAX = 100_000;
const ANSWERS_MAX = 1_000_000;
const MEMBER = `resource_id as "resourceId", group_id as "groupId", part, pool, units,
  extract(epoch from ordered_at)::double precision as "orderedAt"`;

/** The machines that mixes have now, as far as is known. */
export async function mixMembers(db: Db): Promise<MixMember[]> {
  const { rows } = await db.query<MixMember>(
    `select ${MEMBER}
     from mix_member
     where ended_at is null
     order by ordered_at, resource_id
     limit ${MEMBERS_MAX + 1}`,
  );
  return whole(rows, { most: MEMBERS_MAX, what: "machines of mixes" });
}

export async function addMixMember(db: Db, fleet: string, { resourceId, groupId, part, pool, units, orderedAt }: MixMember) {
  await db.query(
    `insert into mix_member (resource_id, group_id, fleet, part, pool, units, ordered_at)
     values ($1::text, $2::text, $3::text, $4::text, $5::text, $6::integer, to_timestamp($7::double precision))
     on conflict (resource_id) do nothing`,
    [resourceId, groupId, fleet, part, pool, units, orderedAt],
  );
}

/** Why a mix has a machine no more: it went by itself, or was given back. */
/** `never came`: it was ordered and accepted, and nothing of it was ever listed. */
export type EndCause = "gone" | "evicted" | "never came" | StepCause;

export async function endMixMember(db: Db, id: string, { at, cause }: Readonly<{ at: Instant; cause: EndCause }>): Promise<void> {
  await db.query(
    "update mix_member set ended_at = to_timestamp($2::double precision), end_cause = $3::text where resource_id = $1::text",
    [id, at, cause],
  );
}

/** Takes back that some machines had gone, where that was seen and not asked for. Returns those. */
export async function reopenMixMembers(db: Db, ids: readonly string[]): Promise<MixMember[]> {
  const { rows } = await db.query<MixMember>(
    `update mix_member set ended_at = null, end_cause = null
     where resource_id = any ($1::text[]) and ended_at is not null and end_cause in ('gone', 'evicted', 'never came')
     returning ${MEMBER}`,
    [ids],
  );
  return rows;
}

/** What a provider told of a member that counts for a mix: the last of each kind. */
export type MemberNews = Readonly<{ evictedAt: Instant | null; noticedAt: Instant | null; unhealthyAt: Instant | null }>;

export async function memberNews(db: Db, ids: readonly string[]): Promise<Map<string, MemberNews>> {
  const { rows } = await db.query<MemberNews & { id: string }>(
    `select resource_id as id,
       extract(epoch from max(at) filter (where type = 'evicted'))::double precision as "evictedAt",
       extract(epoch from max(at) filter (where type = 'eviction notice'))::double precision as "noticedAt",
       extract(epoch from max(at) filter (where type = 'unhealthy'))::double precision as "unhealthyAt"
     from state_change
     where resource_id = any ($1::text[]) and type in ('evicted', 'eviction notice', 'unhealthy')
     group by resource_id`,
    [ids],
  );
  return new Map(rows.map(({ id, ...news }) => [id, news]));
}

/** Notes since when members have been unhealthy; all others are well. */
export async function noteIll(db: Db, ill: ReadonlyMap<string, Instant>): Promise<void> {
  await db.query(
    `with told as (
       select line.id, to_timestamp(line.at) as at from unnest($1::text[], $2::double precision[]) as line (id, at)
     )
     update mix_member m set ill_since = (select at from told where id = m.resource_id)
     where m.ended_at is null and m.ill_since is distinct from (select at from told where id = m.resource_id)`,
    [[...ill.keys()], [...ill.values()]],
  );
}

/** A member that is unhealthy, and whether the plan of its fleet has it told of only. */
export type IllMember = Readonly<{ fleet: string; name: string; care: UnhealthyCare }>;

/** Members that have been unhealthy since before an instant and were not replaced; by fleet and name. */
export async function illMembers(db: Db, before: Instant): Promise<IllMember[]> {
  const { rows } = await db.query<IllMember>(
    `select m.fleet, r.name, coalesce(f.in_force->>'unhealthy', 'replace') as care
     from mix_member m
     join resource r on r.id = m.resource_id
     left join fleet f on f.name = m.fleet and f.retired_at is null
     where m.ended_at is null and m.ill_since <= to_timestamp($1::double precision) and r.state = 'running'
     order by m.fleet, r.name
     limit ${MEMBERS_MAX + 1}`,
    [before],
  );
  return whole(rows, { most: MEMBERS_MAX, what: "unhealthy machines of mixes" });
}

/** Notes when it was first told that a member will be taken back. */
export async function noteNotices(db: Db, notices: ReadonlyMap<string, Instant>): Promise<void> {
  if (notices.size === 0) return;
  await db.query(
    `update mix_member m set noticed_at = to_timestamp(line.at)
     from unnest($1::text[], $2::double precision[]) as line (id, at)
     where m.resource_id = line.id and (m.noticed_at is null or m.noticed_at <> to_timestamp(line.at))`,
    [[...notices.keys()], [...notices.values()]],
  );
}

/** A member that will be taken back, and nobody was told of yet. */
export type UntoldNotice = Readonly<{
  resourceId: string;
  groupId: string;
  fleet: string;
  pool: string | null;
  noticedAt: Instant;
}>;

/** Takes notices that were not told of; they are on their way in the transaction of `db`. */
export async function takeUntoldNotices(db: Db, most: number): Promise<UntoldNotice[]> {
  const { rows } = await db.query<UntoldNotice>(
    `update mix_member set told = true
     where resource_id in (select resource_id from mix_member where noticed_at is not null and not told limit $1::integer)
     returning resource_id as "resourceId", group_id as "groupId", fleet, pool,
       extract(epoch from noticed_at)::double precision as "noticedAt"`,
    [most],
  );
  return rows;
}

/** What was accepted of an order was never seen: it counts as refused, so that its pool is one that had none then. */
export async function orderNeverCame(db: Db, memberId: string): Promise<void> {
  await db.query(
    `update mix_order set status = 'refused', last_answer = 'it was accepted, and never came'
     where member_id = $1::text and kind = 'order' and status = 'accepted'`,
    [memberId],
  );
}

/** Of the groups' machines those that were ordered, accepted and never came since an instant: how many of which pool. */
export async function neverCame(
  db: Db,
  groupIds: readonly string[],
  since: Instant,
): Promise<readonly Readonly<{ groupId: string; pool: string | null; count: number }>[]> {
  const { rows } = await db.query<{ groupId: string; pool: string | null; count: number }>(
    `select group_id as "groupId", pool, count(*)::integer as count
     from mix_member
     where group_id = any ($1::text[]) and end_cause = 'never came' and ended_at >= to_timestamp($2::double precision)
     group by group_id, pool
     order by count(*) desc, pool`,
    [groupIds, since],
  );
  return rows;
}

/** Of some machines those that a listing has had at some time. */
export async function everListed(db: Db, ids: readonly string[]): Promise<Set<string>> {
  if (ids.length === 0) return new Set();
  const { rows } = await db.query<{ id: string }>("select id from resource where id = any ($1::text[])", [ids]);
  return new Set(rows.map(({ id }) => id));
}

/** How many machines of a group were given back for a reason since an instant. */
export async function givenBackSince(
  db: Db,
  groupId: string,
  { cause, since }: Readonly<{ cause: StepCause; since: Instant }>,
): Promise<number> {
  const { rows } = await db.query<{ n: number }>(
    `select count(*)::integer as n from mix_member
     where group_id = $1::text and end_cause = $2::text and ended_at >= to_timestamp($3::double precision)`,
    [groupId, cause, since],
  );
  return rows[0]?.n ?? 0;
}

export type MixOrder = Readonly<{
  key: string;
  roundId: number;
  fleet: string;
  groupId: string;
  account: string;
  kind: "order" | "restart" | "remove";
  part: Part;
  pool: string | null;
  size: string;
  zone: string;
  units: number;
  keepsDisks: boolean;
  gaps: readonly number[];
  memberId: string | null;
  cause: StepCause;
  why: string;
  recordedAt: Instant;
}>;

/** Records what will be asked for, before it is. */
export async function recordMixOrder(db: Db, order: MixOrder): Promise<void> {
  await db.query(
    `insert into mix_order (key, round_id, fleet, group_id, account, kind, part, pool, size, zone, units, keeps_disks, gaps,
       member_id, why, recorded_at, cause)
     values ($1::text, $2::integer, $3::text, $4::text, $5::text, $6::text, $7::text, $8::text, $9::text, $10::text, $11::integer,
       $12::boolean, $13::bigint[], $14::text, $15::text, to_timestamp($16::double precision), $17::text)`,
    [
      order.key,
      order.roundId,
      order.fleet,
      order.groupId,
      order.account,
      order.kind,
      order.part,
      order.pool,
      order.size,
      order.zone,
      order.units,
      order.keepsDisks,
      order.gaps,
      order.memberId,
      order.why,
      order.recordedAt,
      order.cause,
    ],
  );
}

/** What was recorded and never answered: a worker died in between. */
export async function openMixOrders(db: Db): Promise<MixOrder[]> {
  const { rows } = await db.query<MixOrder>(
    `select key, round_id as "roundId", fleet, group_id as "groupId", account, kind, part, pool, size, zone, units,
       keeps_disks as "keepsDisks", gaps::double precision[] as gaps, member_id as "memberId", why, cause,
       extract(epoch from recorded_at)::double precision as "recordedAt"
     from mix_order
     where status is null
     order by id
     limit ${MEMBERS_MAX + 1}`,
  );
  return whole(rows, { most: MEMBERS_MAX, what: "orders of mixes" });
}

/** Notes what came of an order; without a status it stays open, and is asked again by the same key. */
export async function answerMixOrder(
  db: Db,
  key: string,
  {
    status,
    answer,
    memberId,
  }: Readonly<{ status: "accepted" | "refused" | "failed" | null; answer: string; memberId: string | null }>,
): Promise<void> {
  await db.query(
    `update mix_order set status = $2::text, last_answer = $3::text, member_id = coalesce($4::text, member_id)
     where key = $1::text`,
    [key, status, answer.slice(0, 4000), memberId],
  );
}

/** When each pool of each group last refused, since an instant: by group, then pool, the empty name being full price. */
export async function lastRefusals(db: Db, since: Instant): Promise<Map<string, Map<string, Instant>>> {
  const { rows } = await db.query<{ groupId: string; pool: string; at: Instant }>(
    `select group_id as "groupId", coalesce(pool, '') as pool, extract(epoch from max(recorded_at))::double precision as at
     from mix_order
     where status = 'refused' and kind <> 'remove' and recorded_at >= to_timestamp($1::double precision)
     group by group_id, coalesce(pool, '')`,
    [since],
  );
  const byGroup = new Map<string, Map<string, Instant>>();
  for (const { groupId, pool, at } of rows) byGroup.set(groupId, (byGroup.get(groupId) ?? new Map()).set(pool, at));
  return byGroup;
}

/** How orders of spot machines were answered in a span. */
export async function spotAnswers(
  db: Db,
  { from, to }: Readonly<{ from: Instant; to: Instant }>,
): Promise<Readonly<{ size: string; zone: string; at: Instant; isRefused: boolean }>[]> {
  const { rows } = await db.query<{ size: string; zone: string; at: Instant; isRefused: boolean }>(
    `select size, zone, extract(epoch from recorded_at)::double precision as at, status = 'refused' as "isRefused"
     from mix_order
     where part = 'spot' and kind <> 'remove' and status in ('accepted', 'refused')
       and recorded_at >= to_timestamp($1::double precision) and recorded_at < to_timestamp($2::double precision)
     order by recorded_at
     limit ${ANSWERS_MAX + 1}`,
    [from, to],
  );
  return whole(rows, { most: ANSWERS_MAX, what: "answers to orders of mixes" });
}

/** The machines that mixes had at any time in `[from, to)`, by group. */
export async function mixMembersOver(
  db: Db,
  { from, to }: Readonly<{ from: Instant; to: Instant }>,
): Promise<Map<string, MixMember[]>> {
  const { rows } = await db.query<MixMember>(
    `select ${MEMBER}
     from mix_member
     where ordered_at < to_timestamp($2::double precision) and (ended_at is null or ended_at >= to_timestamp($1::double precision))
     order by ordered_at, resource_id
     limit ${MEMBERS_MAX + 1}`,
    [from, to],
  );
  const byGroup = new Map<string, MixMember[]>();
  for (const member of whole(rows, { most: MEMBERS_MAX, what: "machines of mixes in that span" }))
    byGroup.set(member.groupId, [...(byGroup.get(member.groupId) ?? []), member]);
  return byGroup;
}

/** What a round asked for to keep mixes, and what came of it. */
export type MixOrderLine = Readonly<
  Pick<MixOrder, "fleet" | "kind" | "part" | "pool" | "size" | "zone" | "why" | "memberId"> & {
    id: number;
    status: "accepted" | "refused" | "failed" | null;
    lastAnswer: string;
  }
>;
const ORDERS_SHOWN = 500;

/** The orders of a round, in the order in which they were sent; at most 500 of them. */
export async function mixOrdersOf(db: Db, roundId: number): Promise<MixOrderLine[]> {
  const { rows } = await db.query<MixOrderLine>(
    `select id::double precision as id, fleet, kind, part, pool, size, zone, why, member_id as "memberId", status,
       last_answer as "lastAnswer"
     from mix_order
     where round_id = $1::integer
     order by id
     limit ${ORDERS_SHOWN}`,
    [roundId],
  );
  return rows;
}
