import type { Db } from "./pool";

/** What the queue can be asked to do. */
export type Job = "round" | "metrics";

/** Puts a job on the queue that all workers share. One that waits there already is not put twice. */
export async function addJob(db: Db, job: Job): Promise<void> {
  await db.query("select graphile_worker.add_job($1::text, '{}'::json, job_key := $1::text)", [job]);
}
