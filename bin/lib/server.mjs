import { mkdirSync } from "node:fs";
import { join } from "node:path";
import { ensureBuild } from "./build.mjs";
import { ensureDebian } from "./debian.mjs";
import { ensurePackages } from "./packages.mjs";
import { STATE } from "./paths.mjs";
import { startPostgres } from "./postgres.mjs";
import { runNode, typescript } from "./processes.mjs";
import { giveUp } from "./say.mjs";

/** Sets everything up, runs one TypeScript file against a PostgreSQL server of its own, and stops the server. */
export async function runWithServer(file, { folder, failure }) {
  ensurePackages();
  ensureDebian({ needsPostgres: true, needsBrowser: true });
  await ensureBuild();
  mkdirSync(join(STATE, folder), { recursive: true });
  const postgres = await startPostgres(join(STATE, folder));
  try {
    await runNode(typescript(file), { UMBRIK_TEST_SERVER: postgres.url });
  } catch (error) {
    postgres.stop();
    giveUp(`${failure} (${error.message})`);
  }
  postgres.stop();
}
