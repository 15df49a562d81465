import type { Alarm, AlarmReason, AlarmSamples, AlarmState } from "@/core/idle";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { whole } from "./whole";

/** An alarm as it stands, with whose it is. */
export type StoredAlarm = Alarm & Readonly<{ resourceId: string; rule: string; fleet: string; words: string }>;

const ALARMS_MAX = 2_000_000;

/** Where every alarm stands, or those of one resource or one fleet. */
export async function alarmList(
  db: Db,
  { resourceId = null, fleet = null }: Readonly<{ resourceId?: string | null; fleet?: string | null }> = {},
): Promise<StoredAlarm[]> {
  const { rows } = await db.query<StoredAlarm>(
    `select resource_id as "resourceId", rule, fleet, words, state, since, reason, warned_at as "warnedAt", seen_until as "seenUntil"
     from alarm
     where ($1::text is null or resource_id = $1::text) and ($2::text is null or fleet = $2::text)
     limit $3::integer`,
    [resourceId, fleet, ALARMS_MAX + 1],
  );
  return whole(rows, { most: ALARMS_MAX, what: "alarms" });
}

/** Stores where alarms stand now, and drops those that nothing watches any more. */
export async function saveAlarms(
  db: Db,
  alarms: readonly StoredAlarm[],
  gone: readonly Pick<StoredAlarm, "resourceId" | "rule">[],
): Promise<void> {
  if (alarms.length > 0)
    await db.query(
      `insert into alarm (resource_id, rule, fleet, words, state, since, reason, warned_at, seen_until)
       select id, rule, fleet, words, state, to_timestamp(since), reason::jsonb, to_timestamp(warned_at), to_timestamp(seen_until)
       from unnest($1::text[], $2::text[], $3::text[], $4::text[], $5::text[], $6::double precision[], $7::text[],
           $8::double precision[], $9::double precision[])
         as line (id, rule, fleet, words, state, since, reason, warned_at, seen_until)
       on conflict (resource_id, rule) do update set fleet = excluded.fleet, words = excluded.words, state = excluded.state,
         since = excluded.since, reason = excluded.reason, warned_at = excluded.warned_at, seen_until = excluded.seen_until`,
      [
        alarms.map(({ resourceId }) => resourceId),
        alarms.map(({ rule }) => rule),
        alarms.map(({ fleet }) => fleet),
        alarms.map(({ words }) => words),
        alarms.map(({ state }) => state),
        alarms.map(({ since }) => since),
        alarms.map(({ reason }) => JSON.stringify(reason)),
        alarms.map(({ warnedAt }) => warnedAt),
        alarms.map(({ seenUntil }) => seenUntil),
      ],
    );
  if (gone.length > 0)
    await db.query(
      `delete from alarm a using unnest($1::text[], $2::text[]) as line (id, rule)
       where a.resource_id = line.id and a.rule = line.rule`,
      [gone.map(({ resourceId }) => resourceId), gone.map(({ rule }) => rule)],
    );
}

/** A change of an alarm's state, with the samples that led to it where they did. `left on`: an owner pressed the link. */
export type AlarmChange = Readonly<{
  id: number;
  at: Instant;
  resourceId: string;
  fleet: string;
  /** The rule, by its key. */
  ruleKey: string;
  words: string;
  state: AlarmState | "left on";
  reason: AlarmReason;
  samples: AlarmSamples | null;
}>;

/** Writes changes down; those of `told` are to be told of. */
export async function addAlarmChanges(
  db: Db,
  changes: readonly Omit<AlarmChange, "id">[],
  isToTell: (change: Omit<AlarmChange, "id">) => boolean,
): Promise<void> {
  if (changes.length === 0) return;
  await db.query(
    `insert into alarm_change (at, resource_id, fleet, words, state, reason, samples, is_told, rule_key)
     select to_timestamp(at), id, fleet, words, state, reason::jsonb, samples::jsonb, is_told, rule_key
     from unnest($1::double precision[], $2::text[], $3::text[], $4::text[], $5::text[], $6::text[], $7::text[], $8::boolean[],
         $9::text[])
       as line (at, id, fleet, words, state, reason, samples, is_told, rule_key)`,
    [
      changes.map(({ at }) => at),
      changes.map(({ resourceId }) => resourceId),
      changes.map(({ fleet }) => fleet),
      changes.map(({ words }) => words),
      changes.map(({ state }) => state),
      changes.map(({ reason }) => JSON.stringify(reason)),
      changes.map(({ samples }) => (samples === null ? null : JSON.stringify(samples))),
      changes.map((change) => !isToTell(change)),
      changes.map(({ ruleKey }) => ruleKey),
    ],
  );
}

/** What a round finds of alarms: how they stand, those that are gone, and what is to be written down. */
export type AlarmNews = Readonly<{
  alarms: readonly StoredAlarm[];
  gone: readonly StoredAlarm[];
  changes: readonly Omit<AlarmChange, "id">[];
}>;

const CHANGE = `c.id::integer as id, c.at, c.resource_id as "resourceId", c.fleet, c.rule_key as "ruleKey", c.words, c.state, c.reason, c.samples`;

/** The last changes of a resource's or a fleet's alarms, the last first. */
export async function alarmChanges(
  db: Db,
  {
    resourceId = null,
    fleet = null,
    from = null,
    limit,
  }: Readonly<{ resourceId?: string | null; fleet?: string | null; from?: Instant | null; limit: number }>,
): Promise<AlarmChange[]> {
  const { rows } = await db.query<AlarmChange>(
    `select ${CHANGE}
     from alarm_change c
     where ($1::text is null or c.resource_id = $1::text) and ($2::text is null or c.fleet = $2::text)
       and ($3::double precision is null or c.at >= to_timestamp($3::double precision))
     order by c.at desc, c.id desc
     limit $4::integer`,
    [resourceId, fleet, from, limit],
  );
  return rows;
}

/** A change to be told of, with what it is about and who is to hear; `isHeld`: the stop that it asks for is held back. */
export type UntoldAlarm = AlarmChange & Readonly<{ name: string; owner: string | null; isHeld: boolean }>;

/**
 * Takes changes that were not told of; each is given out once. To be called in the transaction that puts the telling on its way.
 * What tripped is told when its round has ended: only then it is known whether its stop is held back.
 */
export async function takeUntoldAlarms(db: Db, limit: number): Promise<UntoldAlarm[]> {
  const { rowCount } = await db.query("select from alarm_change where not is_told limit 1");
  if (rowCount === 0) return [];
  const { rows } = await db.query<UntoldAlarm>(
    `with taken as (
       update alarm_change set is_told = true
       where id = any (array(
         select id from alarm_change
         where not is_told and (state <> 'tripped' or at <= (select max(at) from round where status = 'done' and mode = 'act'))
         order by id limit $1::integer for update skip locked))
       returning *
     )
     select ${CHANGE}, r.name, r.tags ->> 'owner' as owner,
       exists (select from held_stop h where h.resource_id = c.resource_id) as "isHeld"
     from taken c
     join resource r on r.id = c.resource_id
     order by c.id`,
    [limit],
  );
  return rows;
}

/** Nothing is warned of or done while it stands: on one resource, or on a fleet. */
export type AlarmPause = Readonly<{
  id: number;
  resourceId: string | null;
  fleet: string | null;
  from: Instant;
  to: Instant;
  reason: string;
  person: string;
}>;

/** Those that stand at an instant. */
export async function alarmPauses(db: Db, at: Instant): Promise<AlarmPause[]> {
  const { rows } = await db.query<AlarmPause>(
    `select id, resource_id as "resourceId", fleet, from_at as "from", to_at as "to", reason, person
     from alarm_pause
     where ended_at is null and to_at > to_timestamp($1::double precision)
     order by id desc
     limit 10001`,
    [at],
  );
  return whole(rows, { most: 10_000, what: "pauses of alarms" });
}

export async function addAlarmPause(db: Db, pause: Omit<AlarmPause, "id">): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into alarm_pause (resource_id, fleet, from_at, to_at, reason, person)
     values ($1::text, $2::text, to_timestamp($3::double precision), to_timestamp($4::double precision), $5::text, $6::text)
     returning id`,
    [pause.resourceId, pause.fleet, pause.from, pause.to, pause.reason, pause.person],
  );
  return (rows[0] as { id: number }).id;
}

/** False where it was ended already. */
export async function endAlarmPause(db: Db, id: number, { person, at }: { person: string; at: Instant }): Promise<boolean> {
  const { rowCount } = await db.query(
    `update alarm_pause set ended_at = to_timestamp($2::double precision), ended_by = $3::text
     where id = $1::integer and ended_at is null and to_at > to_timestamp($2::double precision)`,
    [id, at, person],
  );
  return rowCount === 1;
}

/** One change by its number; null where there is none. */
export async function maybeAlarmChange(db: Db, id: number): Promise<AlarmChange | null> {
  const { rows } = await db.query<AlarmChange>(`select ${CHANGE} from alarm_change c where c.id = $1::bigint`, [id]);
  return rows[0] ?? null;
}

/** Lets one press of a link be dealt with at a time, to the end of the transaction. */
export async function lockLink(db: Db, token: string): Promise<void> {
  await db.query("select pg_advisory_xact_lock(hashtext('link ' || $1::text))", [token]);
}
