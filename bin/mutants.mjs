#!/usr/bin/env node
// Changes the lines on which stops and money rest, one by one, and says which change no test notices. Usage: npm run mutants [-- FLAGS]
import { mkdirSync } from "node:fs";
import { join } from "node:path";
import { ensureDebian } from "./lib/debian.mjs";
import { ensurePackages } from "./lib/packages.mjs";
import { ROOT, STATE } from "./lib/paths.mjs";
import { startPostgres } from "./lib/postgres.mjs";
import { runNode } from "./lib/processes.mjs";
import { giveUp } from "./lib/say.mjs";

ensurePackages();
ensureDebian({ needsPostgres: true });
const folder = join(STATE, "mutants");
mkdirSync(folder, { recursive: true });
const postgres = await startPostgres(folder, { isForTests: true });
try {
  await runNode([join(ROOT, "node_modules/@stryker-mutator/core/bin/stryker.js"), "run", ...process.argv.slice(2)], {
    UMBRIK_TEST_SERVER: postgres.url,
  });
} catch (error) {
  postgres.stop();
  giveUp(`mutants could not be tried to the end (${error.message})`);
}
postgres.stop();
