import { asLeader, type Lead, type Pool } from "@/store";
import { RefusedError } from "../admin";

/** Only one round runs at a time, whichever process asks. */
export const ROUNDS = "rounds";
const TRY_EVERY_MS = 150;
const TRIES = 100;

/** Does something as the one that runs a round, after one that is under way has ended. Throws a RefusedError when that takes longer than a quarter of a minute. */
export async function whenFree<T extends object | number>(pool: Pool, work: (lead: Lead) => Promise<T>): Promise<T> {
  for (let attempt = 0; attempt < TRIES; attempt++) {
    const done = await asLeader(pool, ROUNDS, work);
    if (done !== null) return done;
    await new Promise((resolve) => setTimeout(resolve, TRY_EVERY_MS));
  }
  throw new RefusedError("busy", "Another round is taking long. Nothing was done; try again in a moment.");
}
