import { utcDate } from "@/core/time";
import { addJob, type Db, inTransactionAgain, reopenDays, signal } from "@/store";
import type { Actor, Services } from "../../admin";

export type Change = Readonly<{ day: string; cause: string }>;

/**
 * Makes a change that counts from a UTC day on and opens the days from there, together or not at all:
 * days that are reckoned already are reckoned anew, and one that is being closed is not closed.
 */
export async function changeFrom<T>(
  { pool, clock }: Services,
  actor: Actor,
  change: Change & Readonly<{ make: (tx: Db) => Promise<T> }>,
): Promise<T> {
  const { now } = await clock.read();
  const { day, cause, make } = change;
  // While a day is closed both may wait for each other.
  const made = await inTransactionAgain(pool, async (tx) => {
    const result = await make(tx);
    if (day <= utcDate(now)) await reopenDays(tx, day, { cause, person: actor.name, at: now });
    return result;
  });
  await addJob(pool, "spend");
  await signal(pool, "spend");
  return made;
}
