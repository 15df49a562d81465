import { join } from "node:path";
import { runMigrations } from "graphile-worker";
import { DEMO_ACTOR, emptyDatabase, ensureSigningKey, migrateDatabase, type Services } from "@/services/admin";

/** Makes a database ready for this version: the schema, the queue's tables, a key to sign links with. Safe to repeat. */
export async function prepareDatabase(services: Services, { isFresh }: Readonly<{ isFresh: boolean }>): Promise<void> {
  if (isFresh) await emptyDatabase(services, DEMO_ACTOR);
  await migrateDatabase(services, DEMO_ACTOR, join(process.cwd(), "db/migrations"));
  await runMigrations({ pgPool: services.pool });
  await ensureSigningKey(services.pool);
}
