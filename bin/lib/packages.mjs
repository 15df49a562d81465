import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { ROOT, STATE } from "./paths.mjs";
import { giveUp, say } from "./say.mjs";

/** Installs the packages of the lock file, unless exactly these are installed already. */
export function ensurePackages() {
  const stamp = join(STATE, "packages.sha");
  const wanted = createHash("sha256")
    .update(readFileSync(join(ROOT, "package-lock.json")))
    .digest("hex");
  const isInstalled = existsSync(join(ROOT, "node_modules")) && existsSync(stamp) && readFileSync(stamp, "utf8") === wanted;
  if (isInstalled) return;
  say("installing packages from the lock file");
  const result = spawnSync("npm", ["ci", "--no-fund", "--no-audit", "--loglevel=error"], {
    cwd: ROOT,
    stdio: ["ignore", 2, 2],
    env: { ...process.env, NODE_ENV: "development" },
  });
  if (result.status !== 0) giveUp("npm ci failed; the lines above say why");
  mkdirSync(STATE, { recursive: true });
  writeFileSync(stamp, wanted);
}
