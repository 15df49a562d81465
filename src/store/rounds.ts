import { createHash } from "node:crypto";
import type { Considered, Level } from "@/core/hours";
import { mapped } from "@/core/pieces";
import { chainWords, type Decision, type Verb, whyWords } from "@/core/rounds";
import type { Instant } from "@/core/time";
import { inPieces } from "./in-pieces";
import type { Db } from "./pool";

export type RoundMode = "act" | "rehearse";

export type Round = Readonly<{
  id: number;
  mode: RoundMode;
  askedBy: string;
  /** Of this fleet alone; null: of everything. */
  fleet: string | null;
  at: Instant;
  status: "running" | "done" | "failed";
  resources: number;
  sent: number;
  waiting: number;
  /** Actions that were tried, accepted or not, and those of them that were not tried for the first time. */
  tried: number;
  again: number;
  braked: number;
  /** Decisions that differ from the round before. */
  changed: number;
  unread: Readonly<Record<string, string>>;
  tookMs: number | null;
  error: string | null;
}>;

const COLUMNS = `id, mode, asked_by as "askedBy", fleet, at, status, resources, sent, tried, again, waiting, braked, changed, unread, took_ms as "tookMs", error`;

/** `askedAt`: when it was asked for, where that is not the instant it is of. */
export type NewRound = Readonly<{
  mode: RoundMode;
  askedBy: string;
  at: Instant;
  fleet?: string | null;
  askedAt?: Instant | null;
}>;

export async function startRound(db: Db, { mode, askedBy, at, fleet = null, askedAt = null }: NewRound): Promise<number> {
  // Whoever starts one leads: what still stands as running was left by a process that ended.
  await db.query("update round set status = 'failed', error = 'the process that ran it ended' where status = 'running'");
  const { rows } = await db.query<{ id: number }>(
    `insert into round (mode, asked_by, at, fleet, asked_at, status)
     values ($1::text, $2::text, to_timestamp($3::double precision), $4::text, to_timestamp($5::double precision), 'running')
     returning id`,
    [mode, askedBy, at, fleet, askedAt],
  );
  return (rows[0] as { id: number }).id;
}

export type RoundEnd = Readonly<
  Pick<Round, "resources" | "sent" | "tried" | "again" | "waiting" | "braked" | "changed" | "unread"> & { tookMs: number }
>;

export async function endRound(db: Db, id: number, end: RoundEnd): Promise<void> {
  await db.query(
    `update round
     set status = 'done', resources = $2::integer, sent = $3::integer, waiting = $4::integer, braked = $5::integer,
       changed = $6::integer, unread = $7::jsonb, took_ms = $8::integer, tried = $9::integer, again = $10::integer
     where id = $1::integer`,
    [
      id,
      end.resources,
      end.sent,
      end.waiting,
      end.braked,
      end.changed,
      JSON.stringify(end.unread),
      end.tookMs,
      end.tried,
      end.again,
    ],
  );
}

export async function failRound(db: Db, id: number, error: string): Promise<void> {
  await db.query("update round set status = 'failed', error = $2::text where id = $1::integer", [id, error]);
}

/** Newest first, older than `before` and not asked for after the instant `at` where they are given. */
export async function roundList(
  db: Db,
  { before, at, limit }: { before: number | null; at: Instant | null; limit: number },
): Promise<Round[]> {
  const { rows } = await db.query<Round>(
    `select ${COLUMNS}
     from round
     where ($1::integer is null or id < $1::integer)
       and ($3::double precision is null or coalesce(asked_at, at) <= to_timestamp($3::double precision))
     order by id desc
     limit $2::integer`,
    [before, limit, at],
  );
  return rows;
}

export async function maybeRound(db: Db, id: number): Promise<Round | null> {
  const { rows } = await db.query<Round>(`select ${COLUMNS} from round where id = $1::integer`, [id]);
  return rows[0] ?? null;
}

export async function lastActRound(db: Db): Promise<Round | null> {
  const { rows } = await db.query<Round>(
    `select ${COLUMNS} from round where mode = 'act' and status <> 'running' order by id desc limit 1`,
  );
  return rows[0] ?? null;
}

/** The last round that looked at everything and came to its end. */
export async function lastFullRound(db: Db): Promise<Round | null> {
  const { rows } = await db.query<Round>(
    `select ${COLUMNS} from round where mode = 'act' and status = 'done' and fleet is null order by id desc limit 1`,
  );
  return rows[0] ?? null;
}

/** How many rounds failed one after the other, since when, and with what the latest did. */
export type Failing = Readonly<{ count: number; since: Instant; error: string }>;

/** The rounds of everything that failed since the last that did not; null where none did. */
export async function failingRounds(db: Db): Promise<Failing | null> {
  const { rows } = await db.query<{ count: number; since: Instant | null; error: string | null }>(
    `select count(*)::integer as count, min(at) as since, (array_agg(error order by id desc))[1] as error
     from round
     where mode = 'act' and fleet is null and status = 'failed' and id > coalesce((
       select id from round
       where mode = 'act' and fleet is null and status not in ('failed', 'running')
       order by id desc
       limit 1
     ), 0)`,
  );
  const { count, since, error } = rows[0] as { count: number; since: Instant | null; error: string | null };
  return since === null ? null : { count, since, error: error ?? "" };
}

/** So many are put into one statement: what is made for it is gone before the next. */
const DECISIONS_AT_ONCE = 5_000;

type Deciding = Readonly<{ decisions: readonly Decision[]; isRehearsal: boolean }>;

/** Writes the decisions of a round that differ from those that held before, and returns how many did. A rehearsal writes all. */
export async function saveDecisions(db: Db, roundId: number, { decisions, isRehearsal }: Deciding): Promise<number> {
  const held = isRehearsal ? NONE_HELD : await sumsHeld(db, decisions);
  const sums = await inPieces(mapped(decisions, (decision) => ({ decision, sum: sumOf(decision) })));
  // An action is news each time it is sent.
  const news = sums.filter(({ decision, sum }) => decision.verdict === "act" || held.get(decision.resourceId) !== sum);
  for (let i = 0; i < news.length; i += DECISIONS_AT_ONCE)
    await saveSome(db, { roundId, isRehearsal, some: news.slice(i, i + DECISIONS_AT_ONCE) });
  return news.length;
}

const NONE_HELD: ReadonlyMap<string, string> = new Map();

/** What was decided last of each resource, as its sum. */
async function sumsHeld(db: Db, decisions: readonly Decision[]): Promise<ReadonlyMap<string, string>> {
  const few = decisions.length === 1 ? decisions.map(({ resourceId }) => resourceId) : null;
  const { rows } = await db.query<[string, string]>({
    text: `select r.id, d.sum from resource r join decision d on d.id = r.decision_id
           where d.sum is not null and ($1::text[] is null or r.id = any ($1::text[]))`,
    values: [few],
    rowMode: "array",
  });
  return new Map(rows);
}

/** All that a decision says, in a few characters. */
function sumOf({ fleet, due, actual, verdict, reasons, chain, action }: Decision): string {
  const all = JSON.stringify([fleet, due, actual, verdict, reasons, chain, action?.verb ?? null, action?.level ?? null]);
  return createHash("md5").update(all).digest("base64");
}

type Saving = Readonly<{ roundId: number; isRehearsal: boolean; some: readonly Readonly<{ decision: Decision; sum: string }>[] }>;

async function saveSome(db: Db, { roundId, isRehearsal, some }: Saving): Promise<void> {
  const lines = some.map(({ decision, sum }) => ({
    resource_id: decision.resourceId,
    fleet: decision.fleet,
    due: decision.due,
    actual: decision.actual,
    verdict: decision.verdict,
    why: whyWords(decision.reasons),
    chain: chainWords(decision.chain),
    verb: decision.action?.verb ?? null,
    wanted: decision.action?.level ?? null,
    sum,
  }));
  await db.query(
    `with line as (
       select *
       from jsonb_to_recordset($2::jsonb) as line (resource_id text, fleet text, due integer, actual integer, verdict text,
         why text, chain jsonb, verb text, wanted integer, sum text)
     ), written as (
       insert into decision (round_id, is_rehearsal, resource_id, fleet, due, actual, verdict, why, chain, verb, wanted, sum)
       select $1::integer, $3::boolean, line.resource_id, line.fleet, line.due, line.actual, line.verdict, line.why, line.chain,
         line.verb, line.wanted, line.sum
       from line
       join resource r on r.id = line.resource_id
       returning id, resource_id
     )
     update resource r
     set decision_id = written.id
     from written
     where r.id = written.resource_id and not $3::boolean`,
    [roundId, JSON.stringify(lines), isRehearsal],
  );
}

export type StoredDecision = Readonly<{
  resourceId: string;
  name: string;
  kind: string;
  account: string;
  region: string;
  fleet: string | null;
  due: Level | null;
  actual: Level;
  verdict: Decision["verdict"];
  why: string;
  chain: readonly Considered[];
  verb: Verb | null;
  wanted: Level | null;
  /** It was made in this round, not carried over unchanged. */
  isNew: boolean;
  /** What became of the action that this round sent for it, in how many tries, and how long that took in seconds. */
  actionStatus: string | null;
  lastAnswer: string | null;
  attempts: number | null;
  tookS: number | null;
}>;

/** Decisions of a round that are alike: what was decided for how many of a fleet, and why. */
export type DecisionGroup = Readonly<{
  verdict: Decision["verdict"];
  verb: Verb | null;
  wanted: Level | null;
  fleet: string | null;
  why: string;
  count: number;
  /** How many of their actions came to which end. */
  ends: Readonly<Record<string, number>>;
}>;

const HELD = `held as (
       select distinct on (resource_id) *
       from decision
       where case when $2::boolean then round_id = $1::integer else round_id <= $1::integer and not is_rehearsal end
       order by resource_id, round_id desc, id desc
     )`;

/** Every decision that held in a round, by what it was and why, the gravest first. */
export async function decisionGroups(db: Db, round: Pick<Round, "id" | "mode">): Promise<DecisionGroup[]> {
  const { rows } = await db.query<DecisionGroup & { ends: Record<string, number> | null }>(
    `with ${HELD}, counted as (
       select held.verdict, held.verb, held.wanted, held.fleet, held.why, a.status, count(*)::integer as n
       from held
       left join action a on a.resource_id = held.resource_id and a.round_id = $1::integer
       group by 1, 2, 3, 4, 5, 6
     )
     select verdict, verb, wanted, fleet, why, sum(n)::integer as count,
       jsonb_object_agg(status, n) filter (where status is not null) as ends
     from counted
     group by 1, 2, 3, 4, 5
     order by ${GRAVITY("verdict")}, count desc, fleet nulls last, why`,
    [round.id, round.mode === "rehearse"],
  );
  return rows.map((row) => ({ ...row, ends: row.ends ?? {} }));
}

function GRAVITY(column: string): string {
  return `array_position(array['braked', 'act', 'waiting', 'as due', 'left'], ${column})`;
}

/** Every decision that held in a round: the newest of each resource up to it, or a rehearsal's own. */
export async function decisionsOf(
  db: Db,
  round: Pick<Round, "id" | "mode">,
  { limit, offset, group }: { limit: number; offset: number; group: Pick<DecisionGroup, "verdict" | "fleet" | "why"> | null },
): Promise<StoredDecision[]> {
  const { rows } = await db.query<StoredDecision>(
    `with ${HELD}
     select held.resource_id as "resourceId", r.name, r.kind, r.account, r.region, held.fleet, held.due, held.actual, held.verdict,
       held.why, held.chain, held.verb, held.wanted, held.round_id = $1::integer as "isNew",
       a.status as "actionStatus", a.last_answer as "lastAnswer", a.attempts,
       extract(epoch from a.ended_at - a.sent_at)::integer as "tookS"
     from held
     join resource r on r.id = held.resource_id
     left join action a on a.resource_id = held.resource_id and a.round_id = $1::integer
     where $5::text is null or (held.verdict = $5::text and held.fleet is not distinct from $6::text and held.why = $7::text)
     order by ${GRAVITY("held.verdict")}, held.fleet nulls last, r.name
     limit $3::integer offset $4::integer`,
    [round.id, round.mode === "rehearse", limit, offset, group?.verdict ?? null, group?.fleet ?? null, group?.why ?? null],
  );
  return rows;
}
