import { addJob, type Db } from "@/store";

/** What the job of a round carries: who asked for it, and for which fleet alone; null: for everything. */
export type RoundJob = Readonly<{ by: string; fleet: string | null }>;

/** Puts a round on the queue in the name of whoever asked for it. One that waits there already is not put twice. */
export async function queueRound(db: Db, { by, fleet }: RoundJob): Promise<void> {
  await addJob(db, "round", { payload: { by, fleet }, key: fleet === null ? "round" : `round ${fleet}` });
}
