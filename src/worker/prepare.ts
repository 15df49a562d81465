import { readFileSync } from "node:fs";
import { join } from "node:path";
import { parseArgs } from "node:util";
import { runMigrations } from "graphile-worker";
import {
  connectAccounts,
  DEMO_PERSON,
  emptyDatabase,
  ensureSigningKey,
  loadPlan,
  migrateDatabase,
  openServices,
  saveReport,
} from "@/services";
import { ACCOUNTS } from "../../demo/accounts";
import { IN_FORCE, REPORT } from "../../demo/world";

/**
 * Brings the database to the newest schema and, with `--demo URL`, loads the demo scenario into an
 * empty one. `--fresh` empties it first, but only a database that Umbrik made.
 */
const { values } = parseArgs({ options: { demo: { type: "string" }, fresh: { type: "boolean", default: false } } });
const services = openServices(process.env);

if (values.fresh) await emptyDatabase(services, DEMO_PERSON);
await migrateDatabase(services, DEMO_PERSON, join(process.cwd(), "db/migrations"));
await runMigrations({ pgPool: services.pool });
await ensureSigningKey(services.pool);
if (values.demo !== undefined) await loadDemo(values.demo);
await services.pool.end();

async function loadDemo(standinUrl: string): Promise<void> {
  // The stand-in takes a free port at every start, so its address is written each time.
  const accounts = ACCOUNTS.map(({ name, provider, key }) => ({ name, provider, key, baseUrl: `${standinUrl}/${provider}` }));
  const isNew = await connectAccounts(services, DEMO_PERSON, accounts);
  if (!isNew) return;
  await loadPlan(services, DEMO_PERSON, { text: readFileSync("demo/plan.yaml", "utf8"), inForce: IN_FORCE });
  await saveReport(services, DEMO_PERSON, { id: null, version: 0, draft: REPORT });
}
