import type { Db } from "./pool";

/** What the queue can be asked to do. */
export type Job = "round" | "metrics" | "spend" | "usage" | "import" | "import-erase" | "mail" | "housekeeping";

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
