import type { Level } from "@/core/hours";
import type { OpenAction, Verb } from "@/core/rounds";
import type { Instant } from "@/core/time";
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
  status: "recorded" | "sent" | "done" | "refused" | "failed" | "given up";
  attempts: number;
  recordedAt: Instant;
  tryAgainAt: Instant;
  deadline: Instant;
  lastAnswer: string;
}>;

const COLUMNS = `id, key, round_id as "roundId", resource_id as "resourceId", account, verb, level, status, attempts,
  recorded_at as "recordedAt", try_again_at as "tryAgainAt", deadline, last_answer as "lastAnswer"`;

export type NewAction = Readonly<Pick<Action, "key" | "resourceId" | "account" | "verb" | "level">>;

/** Records actions before anything is sent. A key that is there already, or a resource with an open action, is passed over. */
export async function recordActions(
  db: Db,
  actions: readonly NewAction[],
  { roundId, at, deadline }: { roundId: number; at: Instant; deadline: Instant },
): Promise<void> {
  await db.query(
    `insert into action (key, round_id, resource_id, account, verb, level, status, recorded_at, try_again_at, deadline)
     select key, $1::integer, resource_id, account, verb, level, 'recorded', to_timestamp($2::double precision),
       to_timestamp($2::double precision), to_timestamp($3::double precision)
     from unnest($4::text[], $5::text[], $6::text[], $7::text[], $8::integer[]) as line (key, resource_id, account, verb, level)
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
    ],
  );
}

/** Recorded or sent and not ended, oldest first. */
export async function openActionList(db: Db): Promise<Action[]> {
  const { rows } = await db.query<Action>(
    `select ${COLUMNS} from action where status in ('recorded', 'sent') order by id limit 100001`,
  );
  whole(rows, { most: 100_000, what: "open actions" });
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

/** How an action stands after an answer, or once it has ended. Ended ones are never touched again. */
export async function saveActionState(
  db: Db,
  action: Pick<Action, "id">,
  next: Readonly<{
    status: Action["status"];
    lastAnswer: string;
    attempts: number;
    tryAgainAt: Instant;
    endedAt: Instant | null;
  }>,
): Promise<void> {
  await db.query(
    `update action
     set status = $2::text, last_answer = $3::text, attempts = $4::integer, try_again_at = to_timestamp($5::double precision),
       ended_at = to_timestamp($6::double precision)
     where id = $1::integer and status in ('recorded', 'sent')`,
    [action.id, next.status, next.lastAnswer, next.attempts, next.tryAgainAt, next.endedAt],
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

/** Lets the next round before `until` stop as many as a person has confirmed. */
export async function allowStops(
  db: Db,
  { stops, person, until }: { stops: number; person: string; until: Instant },
): Promise<void> {
  await db.query(
    "insert into allowance (stops, person, until) values ($1::integer, $2::text, to_timestamp($3::double precision))",
    [stops, person, until],
  );
}

/** Takes the largest allowance that is still good; 0 where there is none. A rehearsal only looks. */
export async function takeAllowance(
  db: Db,
  { now, roundId, isRehearsal }: { now: Instant; roundId: number; isRehearsal: boolean },
): Promise<number> {
  const { rows } = await db.query<{ stops: number }>(
    isRehearsal
      ? "select stops from allowance where used_by is null and until >= to_timestamp($1::double precision) and $2::integer is not null"
      : `update allowance
         set used_by = $2::integer
         where used_by is null and until >= to_timestamp($1::double precision)
         returning stops`,
    [now, roundId],
  );
  return Math.max(0, ...rows.map(({ stops }) => stops));
}

/** What the providers answered last to the actions of a round. */
export async function answersOf(db: Db, roundId: number): Promise<string[]> {
  const { rows } = await db.query<{ answer: string }>(
    "select last_answer as answer from action where round_id = $1::integer order by id limit 10000",
    [roundId],
  );
  return rows.map(({ answer }) => answer);
}
