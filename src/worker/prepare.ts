import { readFileSync } from "node:fs";
import { join } from "node:path";
import { parseArgs } from "node:util";
import { runMigrations } from "graphile-worker";
import { DEMO_PERSON, loadPlan, openServices } from "@/services";
import { accountList, migrate, type Pool, saveAccount } from "@/store";
import { ACCOUNTS } from "../../demo/accounts";
import { IN_FORCE } from "../../demo/world";

/**
 * Brings the database to the newest schema and, with `--demo URL`, loads the demo scenario into an
 * empty one. `--fresh` empties it first, but only a database that Umbrik made.
 */
const { values } = parseArgs({ options: { demo: { type: "string" }, fresh: { type: "boolean", default: false } } });
const services = openServices(process.env);
const { pool } = services;

if (values.fresh) await empty(pool);
await migrate(pool, join(process.cwd(), "db/migrations"));
await runMigrations({ pgPool: pool });
if (values.demo !== undefined) await loadDemo(values.demo);
await pool.end();

async function empty(db: Pool): Promise<void> {
  const { rows } = await db.query<{ tables: number; isOurs: boolean }>(
    `select count(*)::integer as tables, coalesce(bool_or(tablename = 'plan_version'), false) as "isOurs"
     from pg_tables
     where schemaname = 'public'`,
  );
  const found = rows[0];
  if (found && found.tables > 0 && !found.isOurs) throw new Error("this database holds tables of something else: --fresh leaves it alone");
  await db.query("drop schema if exists graphile_worker cascade; drop schema public cascade; create schema public");
}

async function loadDemo(standinUrl: string): Promise<void> {
  const isNew = (await accountList(pool)).length === 0;
  // The stand-in takes a free port at every start, so its address is written each time.
  for (const { name, provider, key } of ACCOUNTS) await saveAccount(pool, { name, provider, key, baseUrl: `${standinUrl}/${provider}` });
  if (isNew) await loadPlan(services, DEMO_PERSON, { text: readFileSync("demo/plan.yaml", "utf8"), inForce: IN_FORCE });
}
