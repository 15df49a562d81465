#!/usr/bin/env node
// Writes the whole database to one file, or reads it back. Usage: npm run backup -- FILE, npm run restore -- FILE
import { spawnSync } from "node:child_process";
import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { postgresFolder } from "./lib/debian.mjs";
import { DATA } from "./lib/paths.mjs";
import { giveUp, say } from "./lib/say.mjs";

const [what, file] = process.argv.slice(2);
if ((what !== "backup" && what !== "restore") || !file) giveUp("usage: npm run backup -- FILE, or npm run restore -- FILE", 2);
const running = join(DATA, "running.json");
const url = process.env.DATABASE_URL ?? (existsSync(running) ? JSON.parse(readFileSync(running, "utf8")).DATABASE_URL : null);
if (!url) giveUp("DATABASE_URL is not set, and nothing runs in this folder");
const folder = postgresFolder();
if (!folder) giveUp("PostgreSQL's own programs are missing from this machine");

// A restore goes through whole or not at all, and only into a database that holds nothing yet.
const [program, args] =
  what === "backup"
    ? ["pg_dump", ["--format=custom", "--no-owner", "--no-privileges", `--file=${file}`, url]]
    : ["pg_restore", ["--no-owner", "--no-privileges", "--single-transaction", "--exit-on-error", `--dbname=${url}`, file]];
if (what === "restore" && !existsSync(file)) giveUp(`${file}: there is no such file`);
const { status, stderr } = spawnSync(join(folder, program), args, { encoding: "utf8" });
const lines = stderr.trim().split("\n");
if (status !== 0) giveUp(`${program} says: ${lines.find((line) => line.includes("error:")) ?? lines.at(-1)}`);
say(what === "backup" ? `everything is in ${file}` : `everything of ${file} is back`);
