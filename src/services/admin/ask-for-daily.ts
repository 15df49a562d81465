import { addJob, type Job } from "@/store";
import { type Actor, authorise, ESTATE } from "./actor";
import type { Services } from "./context";

/** What is done once a UTC day is over, in the order in which it is put on the queue. */
export const DAILY: readonly Job[] = ["housekeeping", "spend", "usage", "metrics", "likely"];

/** Puts the day's jobs on the queue; asked for twice, each runs once. */
export async function askForDaily({ pool }: Services, actor: Actor): Promise<void> {
  authorise(actor, "work", ESTATE);
  for (const job of DAILY) await addJob(pool, job);
}
