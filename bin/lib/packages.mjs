import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, rmdirSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { ROOT, STATE } from "./paths.mjs";
import { giveUp, say } from "./say.mjs";

const STAMP = join(STATE, "packages.sha");
const LOCK = join(STATE, "installing");
const WAIT_MS = 300;
/** An install that takes longer than this was killed half-way. */
const STALE_MS = 10 * 60_000;

/** Installs the packages of the lock file, unless exactly these are installed already. Two at once wait for one another. */
export function ensurePackages() {
  const text = readFileSync(join(ROOT, "package-lock.json"), "utf8");
  const wanted = createHash("sha256").update(text).digest("hex");
  if (isStamped(wanted)) return;
  mkdirSync(STATE, { recursive: true });
  takeLock();
  try {
    if (isStamped(wanted)) return;
    if (!isInstalled(text)) install();
    writeFileSync(STAMP, wanted);
  } finally {
    rmdirSync(LOCK);
  }
}

function isStamped(wanted) {
  return existsSync(join(ROOT, "node_modules")) && existsSync(STAMP) && readFileSync(STAMP, "utf8") === wanted;
}

/** True where npm's own record of what it installed names every package that is not optional, at the locked version. */
function isInstalled(lockText) {
  const record = join(ROOT, "node_modules/.package-lock.json");
  if (!existsSync(record)) return false;
  const installed = JSON.parse(readFileSync(record, "utf8")).packages;
  const locked = Object.entries(JSON.parse(lockText).packages);
  return locked.every(([path, { version, optional }]) => path === "" || optional || installed[path]?.version === version);
}

function install() {
  say("installing packages from the lock file");
  const result = spawnSync("npm", ["ci", "--no-fund", "--no-audit", "--loglevel=error"], {
    cwd: ROOT,
    stdio: ["ignore", 2, 2],
    // npm leaves out what tests need where this says production.
    env: { ...process.env, NODE_ENV: "development" },
  });
  if (result.status === 0) return;
  rmdirSync(LOCK);
  giveUp("npm ci failed; the lines above say why");
}

function takeLock() {
  for (;;) {
    try {
      mkdirSync(LOCK);
      return;
    } catch (error) {
      if (error.code !== "EEXIST") throw error;
    }
    if (Date.now() - statSync(LOCK).mtimeMs > STALE_MS) rmdirSync(LOCK);
    else Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, WAIT_MS);
  }
}
