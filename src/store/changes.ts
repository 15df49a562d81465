import type { Level } from "@/core/hours";
import { isRunningState, type ResourceState } from "@/core/plan";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { whole } from "./whole";

/** A change of a resource's state as the provider told it; `n` counts within the account. */
export type StateChange = Readonly<{
  n: number;
  resourceId: string;
  at: Instant;
  type: string;
  state: ResourceState;
  level: Level;
  note: string;
}>;

/** Changes of a feed, in its order. `isTwice`: some may have been told before, under other numbers. */
type Changes = Readonly<{ changes: readonly StateChange[]; billedWhenHalted: boolean; isTwice?: boolean }>;

/** A clock that was set right may go back so far; what is told of longer before is told late. */
const SET_RIGHT_S = 900;

/** Changes of a resource in the order they were told: one that is dated a little before another told earlier is of the same instant. */
async function inTheirOrder(db: Db, account: string, changes: readonly StateChange[]): Promise<StateChange[]> {
  const { rows } = await db.query<{ id: string; at: Instant }>(
    `select distinct on (resource_id) resource_id as id, at
     from state_change
     where account = $1::text and source = 'feed' and n < $2::bigint and resource_id = any ($3::text[])
     order by resource_id, n desc`,
    [account, changes[0]?.n, [...new Set(changes.map(({ resourceId }) => resourceId))]],
  );
  const last = new Map(rows.map(({ id, at }) => [id, at]));
  return changes.map((change) => {
    const before = last.get(change.resourceId) ?? Number.NEGATIVE_INFINITY;
    const at = change.at < before && before - change.at <= SET_RIGHT_S ? before : change.at;
    last.set(change.resourceId, Math.max(at, before));
    return at === change.at ? change : { ...change, at };
  });
}

/**
 * Stores a page of an account's feed; a page stored twice changes nothing.
 * Returns the earliest instant that it newly tells of; null where it tells nothing new.
 */
export async function saveChanges(
  db: Db,
  account: string,
  { changes: told, billedWhenHalted, isTwice = false }: Changes,
): Promise<Instant | null> {
  const [first] = told;
  if (!first) return null;
  const changes = await inTheirOrder(db, account, told);
  const since = await runSinceOf(db, account, { changes, billedWhenHalted });
  const { rows } = await db.query<{ at: Instant }>(
    `insert into state_change (account, n, resource_id, at, type, state, level, note, run_since)
     select $1::text, n, resource_id, to_timestamp(at), type, state, level, note, to_timestamp(run_since)
     from unnest($2::bigint[], $3::text[], $4::double precision[], $5::text[], $6::text[], $7::integer[], $8::text[],
         $9::double precision[])
       as line (n, resource_id, at, type, state, level, note, run_since)
     -- A feed that began again may tell once more what it told before.
     where not $10::boolean or not exists (
       select from state_change s
       where s.account = $1::text and s.resource_id = line.resource_id and s.at = to_timestamp(line.at)
         and s.type = line.type and s.state = line.state and s.level = line.level)
     on conflict (account, source, n) do nothing
     returning at`,
    [
      account,
      changes.map(({ n }) => n),
      changes.map(({ resourceId }) => resourceId),
      changes.map(({ at }) => at),
      changes.map(({ type }) => type),
      changes.map(({ state }) => state),
      changes.map(({ level }) => level),
      changes.map(({ note }) => note),
      since,
      isTwice,
    ],
  );
  return rows.length === 0 ? null : Math.min(...rows.map(({ at }) => at));
}

/** Where to go on reading an account's feed, and by what that is known again; never back. */
export async function saveCursor(
  db: Db,
  account: string,
  { last, base, mark }: Readonly<{ last: number; base: number; mark: string | null }>,
): Promise<void> {
  await db.query(
    `update account set event_cursor = $2::bigint, event_base = $3::bigint, event_mark = $4::text
     where name = $1::text and (event_cursor < $2::bigint or event_base < $3::bigint)`,
    [account, last, base, mark],
  );
}

/** When the billed run that each change belongs to began; null where it is none. What was stored before the page is asked once. */
async function runSinceOf(
  db: Db,
  account: string,
  { changes, billedWhenHalted }: { changes: readonly StateChange[]; billedWhenHalted: boolean },
): Promise<(Instant | null)[]> {
  const { rows } = await db.query<{ resource_id: string; run_since: Instant | null }>(
    `select distinct on (resource_id) resource_id, run_since
     from state_change
     where account = $1::text and (n < $2::bigint or source = 'listing') and resource_id = any ($3::text[])
     order by resource_id, at desc, source desc, n desc`,
    [account, changes[0]?.n, [...new Set(changes.map(({ resourceId }) => resourceId))]],
  );
  const running = new Map(rows.map(({ resource_id, run_since }) => [resource_id, run_since]));
  return changes.map(({ resourceId, at, state }) => {
    const before = running.get(resourceId) ?? null;
    // Shut down from inside and billed: the run goes on for the bill.
    const since = isRunningState(state) ? (before ?? at) : state === "halted" && billedWhenHalted ? before : null;
    running.set(resourceId, since);
    return since;
  });
}

type Row = { resource_id: string; at: number; state: ResourceState; level: Level };

/** The last changes of one resource before an instant, newest first. */
export async function changesOf(
  db: Db,
  resourceId: string,
  { before, limit }: { before: Instant; limit: number },
): Promise<StateChange[]> {
  const { rows } = await db.query<Row & { n: number; type: string; note: string }>(
    `select n::double precision as n, resource_id, at, type, state, level, note
     from state_change
     where resource_id = $1::text and at <= to_timestamp($2::double precision)
     order by at desc, source desc, n desc
     limit $3::integer`,
    [resourceId, before, limit],
  );
  return rows.map(({ resource_id, ...row }) => ({ ...row, resourceId: resource_id }));
}

/** How long a machine took from being told to run until it ran, and whether it came back from hibernation. */
export type StartTime = Readonly<{ seconds: number; isResume: boolean }>;

/** The measured starts of the resources since an instant, at most the last 5,000. */
export async function startTimes(db: Db, ids: readonly string[], since: Instant): Promise<StartTime[]> {
  const { rows } = await db.query<{ seconds: number; is_resume: boolean }>(
    `select extract(epoch from at - began)::integer as seconds, coalesce(came_from = 'hibernated', false) as is_resume
     from (
       select at, state,
         lag(at) over own as began, lag(state) over own as before, lag(state, 2) over own as came_from
       from state_change
       where resource_id = any ($1::text[]) and at >= to_timestamp($2::double precision)
       window own as (partition by resource_id order by at, source, n)
     ) as change
     where state = 'running' and before = 'starting'
     order by at desc
     limit 5000`,
    [ids, since],
  );
  return rows.map(({ seconds, is_resume }) => ({ seconds, isResume: is_resume }));
}

/** The instant of the first change that a feed told of; null before any. */
export async function firstChangeAt(db: Db): Promise<Instant | null> {
  const { rows } = await db.query<{ at: Instant | null }>("select min(at) as at from state_change where source = 'feed'");
  return rows[0]?.at ?? null;
}

const CHANGES_MAX = 1_000_000;

/** Every change of `[from, to)`, in order of time. */
export async function changesBetween(db: Db, { from, to }: { from: Instant; to: Instant }): Promise<StateChange[]> {
  const { rows } = await db.query<Row & { n: number; type: string; note: string }>(
    `select n::double precision as n, resource_id, at, type, state, level, note
     from state_change
     where at >= to_timestamp($1::double precision) and at < to_timestamp($2::double precision)
     order by at desc, source desc, n desc
     limit ${CHANGES_MAX + 1}`,
    [from, to],
  );
  return whole(rows, { most: CHANGES_MAX, what: "changes of state in that span" })
    .reverse()
    .map(({ resource_id, ...row }) => ({ ...row, resourceId: resource_id }));
}

/** The evictions of some resources in `[from, to)`, in order of time. */
export async function evictionsOf(
  db: Db,
  ids: readonly string[],
  { from, to }: { from: Instant; to: Instant },
): Promise<Readonly<{ resourceId: string; at: Instant }>[]> {
  const { rows } = await db.query<{ resourceId: string; at: Instant }>(
    `select resource_id as "resourceId", extract(epoch from at)::integer as at
     from state_change
     where resource_id = any ($1::text[]) and type = 'evicted'
       and at >= to_timestamp($2::double precision) and at < to_timestamp($3::double precision)
     order by at
     limit ${CHANGES_MAX + 1}`,
    [ids, from, to],
  );
  return whole(rows, { most: CHANGES_MAX, what: "evictions in that span" });
}

/** When the feed first told of each of the resources. */
export async function firstChanges(db: Db, ids: readonly string[]): Promise<Map<string, Instant>> {
  const { rows } = await db.query<{ id: string; at: Instant }>(
    `select resource_id as id, min(at) as at from state_change where resource_id = any ($1::text[]) group by resource_id`,
    [ids],
  );
  return new Map(rows.map(({ id, at }) => [id, at]));
}
