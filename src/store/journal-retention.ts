import type { Instant } from "@/core/time";
import type { Pool } from "./pool";

/** Of one step, so that nothing waits long for it. */
const AT_ONCE = 20_000;
/** Of a table no more than this share goes in one run, and of a small one no more than so many rows. */
const SHARE = 10;
const FEW = 10;

/** What goes of each table; `$1` is the instant before which, `$2` how many rows at most. */
const STEPS: readonly string[] = [
  // A decision holds until the next of its resource: the last one before the day stays.
  `delete from decision where id in (
     select d.id
     from decision d
     join round r on r.id = d.round_id
     where r.at < to_timestamp($1::double precision)
       and not exists (select from resource where decision_id = d.id)
       and (d.is_rehearsal or exists (
         select from decision later
         join round lr on lr.id = later.round_id
         where later.resource_id = d.resource_id and not later.is_rehearsal and later.round_id > d.round_id
           and lr.at < to_timestamp($1::double precision)))
     limit $2::integer)`,
  `delete from action where id in (
     select id from action where ended_at < to_timestamp($1::double precision) limit $2::integer)`,
  `delete from mix_gap where id in (
     select id from mix_gap where closed_at < to_timestamp($1::double precision) limit $2::integer)`,
  `delete from mix_member where resource_id in (
     select resource_id from mix_member where ended_at < to_timestamp($1::double precision) limit $2::integer)`,
  `delete from mix_order where id in (
     select id from mix_order where recorded_at < to_timestamp($1::double precision) and status is not null limit $2::integer)`,
  `delete from mix_study where id in (
     select id from mix_study where asked_at < to_timestamp($1::double precision) limit $2::integer)`,
  `delete from round where id in (
     select r.id
     from round r
     where r.at < to_timestamp($1::double precision)
       and not exists (select from decision where round_id = r.id)
       and not exists (select from action where round_id = r.id)
       and not exists (select from mix_order where round_id = r.id)
     limit $2::integer)`,
  `delete from webhook_delivery where id in (
     select id from webhook_delivery where at < to_timestamp($1::double precision) limit $2::integer)`,
  `delete from let_go where id in (
     select id from let_go where until < to_timestamp($1::double precision) limit $2::integer)`,
];

/** What a state was before the day is kept to the last of each resource: what it was then is known still. */
const OLD_STATES = `delete from state_change c
       using (
         select s.account, s.source, s.n
         from state_change s
         where s.at < to_timestamp($1::double precision) and exists (
           select from state_change later
           where later.resource_id = s.resource_id and later.at > s.at and later.at < to_timestamp($1::double precision))
         limit $2::integer
       ) as old
       where (c.account, c.source, c.n) = (old.account, old.source, old.n)`;

const OLD_ALARM_CHANGES = `delete from alarm_change where id in (
     select id from alarm_change where at < to_timestamp($1::double precision) limit $2::integer)`;

/** Forgets rounds, decisions, actions, what mixes had and deliveries from before an instant. */
export async function forgetJournal(pool: Pool, before: Instant): Promise<void> {
  for (const step of STEPS) await inSteps(pool, step, before);
}

/** Forgets changes of alarms from before an instant. */
export async function forgetAlarmChanges(pool: Pool, before: Instant): Promise<void> {
  await inSteps(pool, OLD_ALARM_CHANGES, before);
}

/** Forgets state changes from before an instant, but for the last of each resource. */
export async function forgetStates(pool: Pool, before: Instant): Promise<void> {
  await inSteps(pool, OLD_STATES, before);
}

/** A clock that is wrong, and a fault of ours, take a tenth of a table a day at the most: somebody sees it before the history is gone. */
async function inSteps(pool: Pool, statement: string, before: Instant): Promise<void> {
  const table = /^delete from (\w+)/.exec(statement)?.[1] ?? "";
  const { rows } = await pool.query<{ n: number }>(`select count(*)::double precision as n from ${table}`);
  let left = Math.max(FEW, Math.floor((rows[0]?.n ?? 0) / SHARE));
  while (left > 0) {
    const most = Math.min(left, AT_ONCE);
    const gone = (await pool.query(statement, [before, most])).rowCount ?? 0;
    if (gone < most) return;
    left -= gone;
  }
}
