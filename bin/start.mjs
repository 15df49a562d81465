#!/usr/bin/env node
// Sets everything up and runs Umbrik with its demo. Usage: npm run start -- [--fresh] [--host H] [--port N]
import { existsSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { parseArgs } from "node:util";
import { ensureBuild } from "./lib/build.mjs";
import { ensureDebian } from "./lib/debian.mjs";
import { startDemo } from "./lib/demo.mjs";
import { ensureFolder, reasonOf } from "./lib/folder.mjs";
import { ensurePackages } from "./lib/packages.mjs";
import { DATA } from "./lib/paths.mjs";
import { startPostgres } from "./lib/postgres.mjs";
import { giveUp, say } from "./lib/say.mjs";

const options = {
  fresh: { type: "boolean", default: false },
  host: { type: "string", default: "127.0.0.1" },
  port: { type: "string", default: "4780" },
};
let values;
try {
  ({ values } = parseArgs({ options }));
} catch (error) {
  giveUp(`${error.message}. Usage: npm run start -- [--fresh] [--host ADDRESS] [--port N]`, 2);
}
if (!/^\d{1,5}$/.test(values.port)) giveUp(`--port ${values.port}: expected a number`, 2);

const pidFile = join(DATA, "start.pid");
const runningFile = join(DATA, "running.json");
if (existsSync(pidFile) && isAlive(Number(readFileSync(pidFile, "utf8")))) giveUp("it is running already in this folder");
ensureFolder(DATA);
writeFileSync(pidFile, String(process.pid));

ensurePackages();
ensureDebian({ needsPostgres: !process.env.DATABASE_URL, needsBrowser: false });
let postgres = null;
let demo = null;
let isStopping = false;

async function stop(code) {
  if (isStopping) return;
  isStopping = true;
  say("stopping");
  await demo?.stop();
  postgres?.stop();
  rmSync(pidFile, { force: true });
  rmSync(runningFile, { force: true });
  process.exit(code);
}
process.on("SIGINT", () => stop(0));
process.on("SIGTERM", () => stop(0));

try {
  await ensureBuild();
  if (!process.env.DATABASE_URL) postgres = await startPostgres(DATA);
  demo = await startDemo({
    databaseUrl: process.env.DATABASE_URL ?? postgres.url,
    state: DATA,
    isFresh: values.fresh,
    host: values.host,
    port: Number(values.port),
    giveUp: () => void stop(1),
  });
  // For the command line: readable by nobody else, for it holds the way into the database.
  writeFileSync(runningFile, JSON.stringify(demo.env), { mode: 0o600 });
  console.log(`Umbrik is running at ${demo.url}`);
} catch (error) {
  say(reasonOf(error));
  await stop(1);
}

/** True where that process is a start script still; its number may have gone to another since. */
function isAlive(pid) {
  try {
    return pid !== process.pid && readFileSync(`/proc/${pid}/cmdline`, "utf8").includes("start.mjs");
  } catch {
    return false;
  }
}
