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
