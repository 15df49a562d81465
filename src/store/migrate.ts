import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import type { Pool } from "./pool";
import { inTransaction } from "./transaction";

const MIGRATION_LOCK = 7200;

/** Brings a database to the newest schema: each file once, in order, in a transaction of its own. Returns what it ran. */
export async function migrate(pool: Pool, folder: string): Promise<string[]> {
  await inTransaction(pool, async (tx) => {
    // Two processes that start together: "if not exists" alone does not keep them apart.
    await tx.query("select pg_advisory_xact_lock($1::integer)", [MIGRATION_LOCK]);
    await tx.query("create table if not exists migration (name text primary key, at timestamptz not null default now())");
  });
  const ran: string[] = [];
  for (const name of readdirSync(folder)
    .filter((file) => file.endsWith(".sql"))
    .sort()) {
    const isNew = await inTransaction(pool, async (tx) => {
      // Its own row first: a rival run waits here, and then finds it done.
      const { rowCount } = await tx.query("insert into migration (name) values ($1::text) on conflict do nothing", [name]);
      if (rowCount === 0) return false;
      await tx.query(readFileSync(join(folder, name), "utf8"));
      return true;
    });
    if (isNew) ran.push(name);
  }
  return ran;
}

/** Whose tables a database holds: none, Umbrik's, or those of something else. */
export async function whatTablesHold(pool: Pool): Promise<"nothing" | "umbrik" | "something else"> {
  const { rows } = await pool.query<{ tables: number; isOurs: boolean }>(
    `select count(*)::integer as tables, coalesce(bool_or(tablename = 'plan_version'), false) as "isOurs"
     from pg_tables
     where schemaname = 'public'`,
  );
  const { tables, isOurs } = rows[0] ?? { tables: 0, isOurs: false };
  return tables === 0 ? "nothing" : isOurs ? "umbrik" : "something else";
}

/** Drops all tables, the queue's too. */
export async function dropEverything(pool: Pool): Promise<void> {
  await pool.query("drop schema if exists graphile_worker cascade; drop schema public cascade; create schema public");
}
