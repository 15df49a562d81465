import { lockRules, type Pool, type PoolClient, readDataVersions } from "@/store";
import { RefusedError } from "../admin";

/** What decisions go by moved between the look and the writing. */
class MovedError extends Error {}

const TRIES = 4;

/** Called first in a transaction: ends it where what was looked at has changed since. */
export type Unchanged = Readonly<{ unchanged: (tx: PoolClient) => Promise<void> }>;

/**
 * Looks and writes so that what is written is what was looked at: `attempt` reads, checks, and calls `unchanged` first in its
 * transaction. Where a plan, hours, an order, a hold or a pause changed in between, all of it is done again on what is there now.
 * Throws a RefusedError where it does not come to rest.
 */
export async function asPreviewed<T>(pool: Pool, attempt: (unchanged: Unchanged["unchanged"]) => Promise<T>): Promise<T> {
  for (let i = 0; i < TRIES; i++) {
    const { rules } = await readDataVersions(pool);
    try {
      return await attempt(async (tx) => {
        if ((await lockRules(tx)) !== rules) throw new MovedError();
      });
    } catch (error) {
      if (!(error instanceof MovedError)) throw error;
    }
  }
  throw new RefusedError("changed_since", "Others are changing plans and holds at this moment. Nothing was changed; try again.");
}
