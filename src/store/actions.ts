import type { Level } from "@/core/hours";
import type { OpenAction, Outcome, Verb } from "@/core/rounds";
import { type Instant, MINUTE_S } from "@/core/time";
import { type Lead, LostLeadError } from "./lead";
import type { Db } from "./pool";
import { whole } from "./whole";

export type Action = Readonly<{
  id: number;
  key: string;
  roundId: number;
  resourceId: string;
  account: string;
  verb: Verb;
  level: Level;
  /** What was due; null for what a person asked for. */
  due: Level | null;
  /** When it was first sent; null before that. */
  sentAt: Instant | null;
  status: Outcome;
  attempts: number;
  recordedAt: Instant;
  tryAgainAt: Instant;
  deadline: Instant;
  /** Its provider has taken it on, at the last try. */
  isAccepted: boolean;
  lastAnswer: string;
}>;

const COLUMNS = `id, key, round_id as "roundId", resource_id as "resourceId", account, verb, level, due, sent_at as "sentAt", status,
  attempts,  recorded_at as "recordedAt", try_again_at as "tryAgainAt", deadline, is_accepted as "isAccepted", last_answer as "lastAnswer"`;

export type NewAction = Readonly<
  Pick<Action, "key" | "resourceId" | "account" | "verb" | "level" | "due"> & { isUnforeseen: boolean }
>;

/** Records actions before anything is sent, with what was decided of each just before. A key that is there already, or a resource with an open action, is passed over. */
export async function recordActions(
  db: Db,
  actions: readonly NewAction[],
  { roundId, at, deadline }: { roundId: number; at: Instant; deadline: Instant },
): Promise<void> {
  await db.query(
    `insert into action (key, round_id, resource_id, account, verb, level, due, is_unforeseen, status, recorded_at, try_again_at,
       deadline, fleet, why, asked_by)
     select line.key, $1::integer, line.resource_id, line.account, line.verb, line.level, line.due, line.is_unforeseen, 'recorded',
       to_timestamp($2::double precision), to_timestamp($2::double precision), to_timestamp($3::double precision),
       d.fleet, coalesce(d.why, ''), coalesce((select asked_by from round where id = $1::integer), '')
     from unnest($4::text[], $5::text[], $6::text[], $7::text[], $8::integer[], $9::integer[], $10::boolean[])
       as line (key, resource_id, account, verb, level, due, is_unforeseen)
     left join resource r on r.id = line.resource_id
     left join decision d on d.id = r.decision_id
     on conflict do nothing`,
    [
      roundId,
      at,
      deadline,
      actions.map(({ key }) => key),
      actions.map(({ resourceId }) => resourceId),
      actions.map(({ account }) => account),
      actions.map(({ verb }) => verb),
      actions.map(({ level }) => level),
      actions.map(({ due }) => due),
      actions.map(({ isUnforeseen }) => isUnforeseen),
    ],
  );
}

/** Recorded or sent and not ended, oldest first. */
export async function openActionList(db: Db): Promise<Action[]> {
  const { rows } = await db.query<Action>(
    `select ${COLUMNS} from action where status in ('recorded', 'sent') order by id limit 100001`,
  );
  return whole(rows, { most: 100_000, what: "open actions" });
}

/** Refused, and not to be tried again before `now`. */
export async function recentRefusals(db: Db, now: Instant): Promise<Action[]> {
  const { rows } = await db.query<Action>(
    `select ${COLUMNS}
     from action
     where status = 'refused' and try_again_at > to_timestamp($1::double precision)
     order by id
     limit 100001`,
    [now],
  );
  whole(rows, { most: 100_000, what: "refused actions" });
  return rows;
}

/**
 * Marks an action as being sent, if the lead is still held and the action still open. `rules` is the counter
 * of what may speak against it, as of now. Throws a LostLeadError where another leads.
 */
export async function markSending(
  db: Db,
  lead: Lead,
  { id, now }: { id: number; now: Instant },
): Promise<Readonly<{ isOpen: boolean; rules: string }>> {
  const { rows } = await db.query<{ held: boolean; isOpen: boolean; rules: string }>(
    `with mine as materialized (
       select from lead where name = $1::text and fence = $2::bigint and until >= clock_timestamp() for share
     ), marked as (
       update action
       set status = 'sent', attempts = attempts + 1, last_answer = 'being sent', is_accepted = false,
         sent_at = coalesce(sent_at, to_timestamp($4::double precision))
       where id = $3::integer and status in ('recorded', 'sent') and exists (select from mine)
       returning id
     )
     select exists (select from mine) as held, exists (select from marked) as "isOpen",
       (select n::text from data_version where name = 'rules') as rules`,
    [lead.name, lead.fence, id, now],
  );
  const [row] = rows;
  if (!row?.held) throw new LostLeadError(lead);
  return row;
}

/** Ends an action that was marked and not sent after all, as if it had not been tried. */
export async function withdrawAction(
  db: Db,
  { id }: Pick<Action, "id">,
  { lastAnswer, at }: { lastAnswer: string; at: Instant },
): Promise<void> {
  await db.query(
    `update action
     set status = 'given up', last_answer = $2::text, ended_at = to_timestamp($3::double precision), attempts = attempts - 1,
       sent_at = case when attempts > 1 then sent_at end
     where id = $1::integer and status in ('recorded', 'sent')`,
    [id, lastAnswer, at],
  );
}

/** Those of the sent actions whose effect their provider has told of since, whatever somebody did after it. */
export async function reachedActions(db: Db): Promise<Set<number>> {
  const { rows } = await db.query<{ id: number }>(
    `select a.id
     from action a
     where a.status = 'sent' and exists (
       select from state_change c
       where c.resource_id = a.resource_id and c.at >= a.sent_at
         and case a.verb
           when 'start' then c.state = 'running'
           when 'resize' then c.level = a.level
           else c.state in ('stopped', 'hibernated')
         end)`,
  );
  return new Set(rows.map(({ id }) => id));
}

/** What an unforeseen stop was sent to since an instant. */
export async function unforeseenSince(db: Db, since: Instant): Promise<Set<string>> {
  const { rows } = await db.query<{ id: string }>(
    `select distinct resource_id as id
     from action
     where is_unforeseen and recorded_at > to_timestamp($1::double precision) and attempts > 0`,
    [since],
  );
  return new Set(rows.map(({ id }) => id));
}

/** How an action stands after an answer, or once it has ended. Ended ones are never touched again. */
export async function saveActionState(
  db: Db,
  action: Pick<Action, "id">,
  next: Readonly<{
    status: Action["status"];
    lastAnswer: string;
    tryAgainAt: Instant;
    endedAt: Instant | null;
    isAccepted?: boolean;
  }>,
): Promise<void> {
  await db.query(
    `update action
     set status = $2::text, last_answer = $3::text, try_again_at = to_timestamp($4::double precision),
       ended_at = to_timestamp($5::double precision), is_accepted = $6::boolean
     where id = $1::integer and status in ('recorded', 'sent')`,
    [action.id, next.status, next.lastAnswer, next.tryAgainAt, next.endedAt, next.isAccepted ?? false],
  );
}

export function openActionOf(action: Action): OpenAction {
  return { level: action.level, tryAgainAt: action.tryAgainAt, lastAnswer: action.lastAnswer };
}

/** What fleets that act on edges were last brought to. */
export async function lastDueMap(db: Db): Promise<Map<string, Level>> {
  const { rows } = await db.query<{ resource_id: string; level: Level }>("select resource_id, level from last_due limit 100001");
  whole(rows, { most: 100_000, what: "dues" });
  return new Map(rows.map(({ resource_id, level }) => [resource_id, level]));
}

export async function saveLastDue(db: Db, dues: ReadonlyMap<string, Level>): Promise<void> {
  if (dues.size === 0) return;
  await db.query(
    `insert into last_due (resource_id, level)
     select resource_id, level
     from unnest($1::text[], $2::integer[]) as line (resource_id, level)
     on conflict (resource_id) do update set level = excluded.level
     where last_due.level <> excluded.level`,
    [[...dues.keys()], [...dues.values()]],
  );
}

/** What the providers answered last to the actions of a round. */
export async function answersOf(db: Db, roundId: number): Promise<string[]> {
  const { rows } = await db.query<{ answer: string }>(
    "select last_answer as answer from action where round_id = $1::integer order by id limit 10000",
    [roundId],
  );
  return rows.map(({ answer }) => answer);
}

/** A start that was first asked for before an instant and has not come to its end, with what was answered last. */
export type MissingStart = Readonly<{
  resourceId: string;
  name: string;
  fleet: string | null;
  due: Level;
  lastAnswer: string;
  attempts: number;
  /** When it is tried again; in the past where the next round does. */
  tryAgainAt: Instant;
}>;

/** How long after it was first asked for a machine is missing that does not run. */
export const MISSING_AFTER_S = 5 * MINUTE_S;

/** What should be on by now and is not, though it was asked for; and what was refused or given up and is still wanted on. */
export async function missingStarts(db: Db, before: Instant): Promise<MissingStart[]> {
  const { rows } = await db.query<MissingStart>(
    `select r.id as "resourceId", r.name, d.fleet, d.due, a.last_answer as "lastAnswer", a.attempts,
       a.try_again_at as "tryAgainAt"
     from resource r
     join decision d on d.id = r.decision_id
     join lateral (
       select last_answer, recorded_at, status, attempts, try_again_at
       from action a
       where a.resource_id = r.id
       order by a.id desc
       limit 1
     ) a on a.recorded_at <= to_timestamp($1::double precision) and a.status <> 'done'
     where d.due > 0 and r.level = 0 and r.state not in ('gone', 'starting') and d.verdict in ('act', 'waiting')
     order by d.fleet, r.name`,
    [before],
  );
  return rows;
}

/** Of some resources those that were started since an instant and did not come on: refused, failed, given up, or to be tried again. */
export async function failedStarts(db: Db, ids: readonly string[], since: Instant): Promise<Set<string>> {
  const { rows } = await db.query<{ id: string }>(
    `select resource_id as id
     from (
       select distinct on (resource_id) resource_id, verb, status, attempts, is_accepted
       from action
       where resource_id = any ($1::text[]) and recorded_at > to_timestamp($2::double precision)
       order by resource_id, id desc
     ) as last
     where verb = 'start' and (status in ('refused', 'failed', 'given up') or (status in ('recorded', 'sent') and attempts > 0 and not is_accepted))`,
    [ids, since],
  );
  return new Set(rows.map(({ id }) => id));
}
