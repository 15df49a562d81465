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

/**
 * Runs `work` while holding a session lock that only one client of the database can hold; null when
 * another holds it. The lock ends with the connection, so a leader that dies lets go.
 */
export async function asLeader<T>(pool: Pool, lock: number, work: () => Promise<T>): Promise<T | null> {
  const client = await pool.connect();
  let isBroken = false;
  try {
    const { rows } = await client.query<{ ok: boolean }>("select pg_try_advisory_lock($1::integer) as ok", [lock]);
    if (!rows[0]?.ok) return null;
    try {
      return await work();
    } finally {
      await client.query("select pg_advisory_unlock($1::integer)", [lock]).catch(() => {
        isBroken = true;
      });
    }
  } finally {
    client.release(isBroken);
  }
}
