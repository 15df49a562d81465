#!/usr/bin/env node
// Writes the whole database to one file, sealed, or reads it back. Usage: npm run backup -- FILE, npm run restore -- FILE
import { spawn, spawnSync } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { postgresFolder } from "./lib/debian.mjs";
import { DATA } from "./lib/paths.mjs";
import { giveUp, say } from "./lib/say.mjs";
import { keyOf, seal, unseal } from "./lib/sealed.mjs";

const [what, file] = process.argv.slice(2);
if ((what !== "backup" && what !== "restore") || !file) giveUp("usage: npm run backup -- FILE, or npm run restore -- FILE", 2);
const running = join(DATA, "running.json");
const url = process.env.DATABASE_URL ?? (existsSync(running) ? JSON.parse(readFileSync(running, "utf8")).DATABASE_URL : null);
if (!url) giveUp("DATABASE_URL is not set, and nothing runs in this folder");
const folder = postgresFolder();
if (!folder) giveUp("PostgreSQL's own programs are missing from this machine");
const keyFile = join(DATA, "backup.key");
const { address, env } = withoutPassword(url);

if (what === "backup") await backUp();
else await restore();

async function backUp() {
  const isNew = !process.env.UMBRIK_BACKUP_KEY && !existsSync(keyFile);
  const key = orGiveUp(() => keyOf({ text: process.env.UMBRIK_BACKUP_KEY, file: keyFile, mayMake: true }));
  const dump = spawn(join(folder, "pg_dump"), ["--format=custom", "--no-owner", "--no-privileges", address], {
    env,
    stdio: ["ignore", "pipe", "pipe"],
  });
  let words = "";
  dump.stderr.on("data", (part) => {
    words += part;
  });
  const ended = new Promise((resolve) => dump.on("close", resolve));
  await seal(dump.stdout, file, key).catch((error) => giveUp(`${file}: ${error.message}`));
  if ((await ended) !== 0) {
    rmSync(file, { force: true });
    giveUp(`pg_dump says: ${errorIn(words)}`);
  }
  say(
    `everything is in ${file}, and opens with the key in ${process.env.UMBRIK_BACKUP_KEY ? "UMBRIK_BACKUP_KEY" : keyFile} alone`,
  );
  if (isNew) say("that key was made now: keep a copy of it elsewhere than the back-ups");
}

// A restore goes through whole or not at all, and only into a database that holds nothing yet.
async function restore() {
  if (!existsSync(file)) giveUp(`${file}: there is no such file`);
  const key = orGiveUp(() => keyOf({ text: process.env.UMBRIK_BACKUP_KEY, file: keyFile, mayMake: false }));
  if (!key) giveUp(`the key is in neither UMBRIK_BACKUP_KEY nor ${keyFile}`);
  const place = mkdtempSync(join(tmpdir(), "umbrik-restore-"));
  try {
    const opened = join(place, "dump");
    await unseal(file, opened, key).catch((error) => giveUp(`${file}: ${error.message}`));
    const args = ["--no-owner", "--no-privileges", "--single-transaction", "--exit-on-error", `--dbname=${address}`, opened];
    const { status, stderr } = spawnSync(join(folder, "pg_restore"), args, { encoding: "utf8", env });
    if (status !== 0) giveUp(`pg_restore says: ${errorIn(stderr)}`);
  } finally {
    rmSync(place, { recursive: true, force: true });
  }
  // Two that act on the same clouds would undo each other: a copy does nothing until somebody says so.
  ask(`insert into pause (account, reason, person, at)
    values (null, 'restored from a back-up: it would act on the same clouds as where it came from', 'restore', clock_timestamp())
    on conflict do nothing`);
  const accounts = ask("select name || ' (' || provider || ', ' || base_url || ')' from account order by name").trim();
  say(`everything of ${file} is back, and paused: it does nothing until rounds are resumed in the application`);
  say(accounts === "" ? "it has no accounts" : `resumed, it acts on: ${accounts.split("\n").join("; ")}`);
}

/** What a statement answers, a line a row. */
function ask(statement) {
  const { status, stdout, stderr } = spawnSync(
    join(folder, "psql"),
    ["-XAtq", "-v", "ON_ERROR_STOP=1", "-c", statement, address],
    {
      encoding: "utf8",
      env,
    },
  );
  if (status !== 0) giveUp(`psql says: ${errorIn(stderr)}`);
  return stdout;
}

/** An address without its password, which other users of the machine would read in the list of processes. */
function withoutPassword(text) {
  const match = /^(postgres(?:ql)?:\/\/[^:@/]*):([^@/]*)@(.*)$/.exec(text);
  if (!match) return { address: text, env: process.env };
  return { address: `${match[1]}@${match[3]}`, env: { ...process.env, PGPASSWORD: decodeURIComponent(match[2]) } };
}

function errorIn(words) {
  const lines = words.trim().split("\n");
  return lines.find((line) => line.includes("error:")) ?? lines.at(-1);
}

function orGiveUp(work) {
  try {
    return work();
  } catch (error) {
    return giveUp(error.message);
  }
}
