import { mkdtempSync, rmSync } from "node:fs";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { runMigrations } from "graphile-worker";
import { connectAccounts, DEMO_ACTOR, migrateDatabase, openServices, type Services } from "@/services/admin";
import { ACCOUNTS } from "../../../demo/accounts";
import { standinServer } from "../../../standin/http/server";
import { Keeper } from "../../../standin/keeper";
import type { World } from "../../../standin/world/types";
import { freshDatabase } from "../world";

/** The stand-in's world in this process, its clock stopped: the test moves it and may change what is in it. */
export type Here = Readonly<{
  services: Services;
  keeper: Keeper;
  databaseUrl: string;
  clockUrl: string;
  close: () => Promise<void>;
}>;

/** Services on a fresh database, connected to a world that stands at `at`; to all of its accounts or to some. `prepare` may change the world before anything looks at it. */
export async function startHere(
  at: number,
  accounts: readonly string[] = ACCOUNTS.map(({ name }) => name),
  prepare: (world: World) => void = () => {},
): Promise<Here> {
  const folder = mkdtempSync(join(tmpdir(), "umbrik-weeks-"));
  const keeper = new Keeper(join(folder, "world.json"));
  // Nothing of it is kept: writing it down would cost more than running it.
  keeper.changed = () => {};
  prepare(keeper.world);
  keeper.setRate(0);
  keeper.stepTo(at);
  const server = standinServer(keeper, join(folder, "mail"));
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const database = await freshDatabase();
  const services = openServices({ DATABASE_URL: database.url, UMBRIK_CLOCK_URL: `${url}/clock`, UMBRIK_LOCAL_SOURCES: "allow" });
  await migrateDatabase(services, DEMO_ACTOR, "db/migrations");
  await runMigrations({ pgPool: services.pool });
  await connectAccounts(
    services,
    DEMO_ACTOR,
    ACCOUNTS.filter(({ name }) => accounts.includes(name)).map(({ name, provider, key }) => ({
      name,
      provider,
      key,
      baseUrl: `${url}/${provider}`,
    })),
  );
  return {
    services,
    keeper,
    databaseUrl: database.url,
    clockUrl: `${url}/clock`,
    close: async () => {
      await services.pool.end();
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await database.drop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
