import type { Db } from "./pool";

/** What the queue can be asked to do. */
export type Job =
  | "round"
  | "metrics"
  | "likely"
  | "spend"
  | "usage"
  | "import"
  | "import-erase"
  | "mail"
  | "webhook"
  | "housekeeping"
  | "metric-history"
  | "mix-study";

export type JobOptions = Readonly<{ payload?: object; key?: string; maxAttempts?: number }>;

/** Puts a job on the queue that all workers share. One that waits there already under the same key is not put twice. */
export async function addJob(db: Db, job: Job, { payload = {}, key = job, maxAttempts = 25 }: JobOptions = {}): Promise<void> {
  await db.query("select graphile_worker.add_job($1::text, $2::json, job_key := $3::text, max_attempts := $4::integer)", [
    job,
    JSON.stringify(payload),
    key,
    maxAttempts,
  ]);
}

/** A worker that shows no life for this long is taken for dead. */
const DEAD_AFTER = "60 seconds";

/** Says that these workers of the queue live, and frees the jobs of those that do not. Returns how many workers' jobs were freed. */
export async function keepWorkers(db: Db, workerIds: readonly string[]): Promise<number> {
  await db.query(
    `insert into worker_life (worker_id, seen_at)
     select id, clock_timestamp() from unnest($1::text[]) as id
     on conflict (worker_id) do update set seen_at = excluded.seen_at`,
    [workerIds],
  );
  await db.query("delete from worker_life where seen_at < clock_timestamp() - interval '1 day'");
  const { rows } = await db.query<{ id: string }>(
    `select distinct j.locked_by as id
     from graphile_worker._private_jobs j
     left join worker_life w on w.worker_id = j.locked_by
     where j.locked_by is not null and coalesce(w.seen_at, j.locked_at) < clock_timestamp() - interval '${DEAD_AFTER}'`,
  );
  if (rows.length > 0) await db.query("select graphile_worker.force_unlock_workers($1::text[])", [rows.map(({ id }) => id)]);
  return rows.length;
}
