import { addJob, type Job } from "@/store";
import type { Services } from "./context";
import { authorise, type Person } from "./person";

/** What is done once a UTC day is over, in the order in which it is put on the queue. */
export const DAILY: readonly Job[] = ["housekeeping", "spend", "usage", "metrics"];

/** Puts the day's jobs on the queue; asked for twice, each runs once. */
export async function askForDaily({ pool }: Services, person: Person): Promise<void> {
  authorise(person, "run rounds");
  for (const job of DAILY) await addJob(pool, job);
}
