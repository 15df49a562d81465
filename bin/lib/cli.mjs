import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync } from "node:fs";
import { join } from "node:path";
import { ROOT, STATE } from "./paths.mjs";

const HOME = join(STATE, "cli");
/** What the command is made of. */
const SOURCES = ["cli", "core", "log", "provider", "services", "store"];
/** Packages that ask for others as they run, or that only commands on stored data need. */
const APART = [
  "date-holidays",
  "esbuild",
  "graphile-worker",
  "ical.js",
  "nodemailer",
  "papaparse",
  "pg",
  "pg-copy-streams",
  "pino",
  "protobufjs",
  "rrule",
  "yaml",
];

/** The command as plain JavaScript, made once for these very sources: compiling it at each start would take seconds. */
export async function madeCli() {
  const folder = join(HOME, stampOfSources());
  const main = join(folder, "main.mjs");
  if (!existsSync(main)) await make(folder);
  return main;
}

function stampOfSources() {
  const hash = createHash("sha256");
  const add = (path) => {
    const { mtimeMs, size } = statSync(path);
    hash.update(`${path} ${mtimeMs} ${size}\n`);
  };
  for (const file of ["package-lock.json", "bin/lib/cli.mjs"]) add(join(ROOT, file));
  for (const room of SOURCES)
    for (const entry of readdirSync(join(ROOT, "src", room), { recursive: true, withFileTypes: true }))
      if (entry.isFile() && entry.name.endsWith(".ts") && !entry.name.endsWith(".test.ts"))
        add(join(entry.parentPath, entry.name));
  return hash.digest("hex").slice(0, 16);
}

/** Made beside and renamed, so that nobody runs half of it; what was made of earlier sources goes. */
async function make(folder) {
  const { build } = await import("esbuild");
  const beside = `${folder}.${process.pid}`;
  await build({
    entryPoints: { main: join(ROOT, "src/cli/main.ts"), "mix-thread": join(ROOT, "src/cli/mix-thread.ts") },
    outdir: beside,
    outExtension: { ".js": ".mjs" },
    bundle: true,
    splitting: true,
    platform: "node",
    format: "esm",
    external: APART,
    tsconfig: join(ROOT, "tsconfig.json"),
    logLevel: "error",
  });
  mkdirSync(HOME, { recursive: true });
  for (const old of readdirSync(HOME))
    if (!folder.endsWith(old) && !old.includes(".")) rmSync(join(HOME, old), { recursive: true });
  try {
    renameSync(beside, folder);
  } catch {
    // Another was faster with the same.
    rmSync(beside, { recursive: true, force: true });
  }
}
