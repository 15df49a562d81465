import type { Level } from "@/core/hours";
import { isRunningState, type ResourceState } from "@/core/plan";
import type { Run } from "@/core/projection";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";

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

/** Stores a page of an account's feed and moves its cursor; a page stored twice changes nothing. */
export async function saveChanges(db: Db, account: string, changes: readonly StateChange[]): Promise<void> {
  const [first] = changes;
  if (!first) return;
  const since = await runSinceOf(db, account, changes);
  await db.query(
    `insert into state_change (account, n, resource_id, at, type, state, level, note, run_since)
     select $1::text, n, resource_id, to_timestamp(at), type, state, level, note, to_timestamp(run_since)
     from unnest($2::integer[], $3::text[], $4::double precision[], $5::text[], $6::text[], $7::integer[], $8::text[],
         $9::double precision[])
       as line (n, resource_id, at, type, state, level, note, run_since)
     on conflict (account, n) do nothing`,
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
    ],
  );
  await db.query("update account set event_cursor = greatest(event_cursor, $2::integer) where name = $1::text", [
    account,
    Math.max(...changes.map(({ n }) => n)),
  ]);
}

/** When the run that each change belongs to began; null where it is none. What was stored before the page is asked once. */
async function runSinceOf(db: Db, account: string, changes: readonly StateChange[]): Promise<(Instant | null)[]> {
  const { rows } = await db.query<{ resource_id: string; run_since: Instant | null }>(
    `select distinct on (resource_id) resource_id, run_since
     from state_change
     where account = $1::text and n < $2::integer and resource_id = any ($3::text[])
     order by resource_id, at desc, n desc`,
    [account, changes[0]?.n, [...new Set(changes.map(({ resourceId }) => resourceId))]],
  );
  const running = new Map(rows.map(({ resource_id, run_since }) => [resource_id, run_since]));
  return changes.map(({ resourceId, at, state }) => {
    const since = isRunningState(state) ? (running.get(resourceId) ?? at) : null;
    running.set(resourceId, since);
    return since;
  });
}

type Row = { resource_id: string; at: number; state: ResourceState; level: Level };

/** When and at which level each of the resources ran in `[from, to)`, from the feed; in order of time. */
export async function runsOf(
  db: Db,
  ids: readonly string[],
  { from, to }: { from: Instant; to: Instant },
): Promise<Map<string, Run[]>> {
  const { rows } = await db.query<Row>(
    `select resource_id, at, state, level
     from state_change
     where resource_id = any ($1::text[])
       and at < to_timestamp($3::double precision)
       and at >= coalesce(
         (select max(before.at)
          from state_change before
          where before.resource_id = state_change.resource_id and before.at <= to_timestamp($2::double precision)),
         to_timestamp($2::double precision))
     order by resource_id, at, n`,
    [ids, from, to],
  );
  const runs = new Map<string, Run[]>(ids.map((id) => [id, []]));
  rows.forEach((row, i) => {
    const next = rows[i + 1];
    const end = Math.min(to, next?.resource_id === row.resource_id ? next.at : to);
    const start = Math.max(from, row.at);
    if (!isRunningState(row.state) || row.level === 0 || start >= end) return;
    const own = runs.get(row.resource_id) as Run[];
    const last = own.at(-1);
    if (last && last.to === start && last.level === row.level) own[own.length - 1] = { ...last, to: end };
    else own.push({ from: start, to: end, level: row.level });
  });
  return runs;
}

/** The last changes of one resource before an instant, newest first. */
export async function changesOf(
  db: Db,
  resourceId: string,
  { before, limit }: { before: Instant; limit: number },
): Promise<StateChange[]> {
  const { rows } = await db.query<Row & { n: number; type: string; note: string }>(
    `select n, resource_id, at, type, state, level, note
     from state_change
     where resource_id = $1::text and at <= to_timestamp($2::double precision)
     order by at desc, n desc
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
       window own as (partition by resource_id order by at, n)
     ) as change
     where state = 'running' and before = 'starting'
     order by at desc
     limit 5000`,
    [ids, since],
  );
  return rows.map(({ seconds, is_resume }) => ({ seconds, isResume: is_resume }));
}

/** The instant of the first change that is known; null before any. */
export async function firstChangeAt(db: Db): Promise<Instant | null> {
  const { rows } = await db.query<{ at: Instant | null }>("select min(at) as at from state_change");
  return rows[0]?.at ?? null;
}

/** Every change of `[from, to)`, in order of time; at most a hundred thousand, the newest. */
export async function changesBetween(db: Db, { from, to }: { from: Instant; to: Instant }): Promise<StateChange[]> {
  const { rows } = await db.query<Row & { n: number; type: string; note: string }>(
    `select n, resource_id, at, type, state, level, note
     from state_change
     where at >= to_timestamp($1::double precision) and at < to_timestamp($2::double precision)
     order by at desc, n desc
     limit 100000`,
    [from, to],
  );
  return rows.reverse().map(({ resource_id, ...row }) => ({ ...row, resourceId: resource_id }));
}

/** When the feed first told of each of the resources. */
export async function firstChanges(db: Db, ids: readonly string[]): Promise<Map<string, Instant>> {
  const { rows } = await db.query<{ id: string; at: Instant }>(
    `select resource_id as id, min(at) as at from state_change where resource_id = any ($1::text[]) group by resource_id`,
    [ids],
  );
  return new Map(rows.map(({ id, at }) => [id, at]));
}
