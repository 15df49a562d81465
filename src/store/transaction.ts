import type { PoolClient } from "pg";
import type { Pool } from "./pool";

/** Runs `work` in one transaction: commits when it returns, rolls back and rethrows when it throws. */
export async function inTransaction<T>(pool: Pool, work: (tx: PoolClient) => Promise<T>): Promise<T> {
  const tx = await pool.connect();
  let isBroken = false;
  try {
    await tx.query("begin");
    const result = await work(tx);
    await tx.query("commit");
    return result;
  } catch (error) {
    await tx.query("rollback").catch(() => {
      isBroken = true;
    });
    throw error;
  } finally {
    tx.release(isBroken);
  }
}

/** What PostgreSQL ends one of two transactions with that waited for each other, or saw each other's work. */
const TOLD_TO_TRY_AGAIN = new Set(["40P01", "40001"]);
const ATTEMPTS = 5;

/**
 * The same, and again where the database ended it because it and another waited for each other: nothing of it was kept. `work`
 * may change nothing but the database, and that by `tx` alone.
 */
export async function inTransactionAgain<T>(pool: Pool, work: (tx: PoolClient) => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    try {
      return await inTransaction(pool, work);
    } catch (error) {
      if (attempt === ATTEMPTS || !TOLD_TO_TRY_AGAIN.has(String((error as { code?: unknown } | null)?.code))) throw error;
    }
  }
}
