import { spawnSync } from "node:child_process";
import { existsSync, readdirSync } from "node:fs";
import { join } from "node:path";
import { giveUp, say } from "./say.mjs";

/** Where Debian puts the server that reads our metrics in the tests. */
export const PROMETHEUS = "/usr/bin/prometheus";

/** And what tells it of the machine it runs on. */
export const NODE_EXPORTER = "/usr/bin/prometheus-node-exporter";

/** The folder with initdb and pg_ctl: on the PATH, or where Debian puts the newest version; null where there is none. */
export function postgresFolder() {
  const debian = "/usr/lib/postgresql";
  const versions = existsSync(debian) ? readdirSync(debian).sort((a, b) => Number(b) - Number(a)) : [];
  const folders = [...versions.map((version) => join(debian, version, "bin")), ...(process.env.PATH ?? "").split(":")];
  return folders.find((folder) => existsSync(join(folder, "initdb")) && existsSync(join(folder, "pg_ctl"))) ?? null;
}

/** Chromium and ChromeDriver from Debian's packages; null where one is missing. */
export function browserPrograms() {
  const find = (name) =>
    (process.env.PATH ?? "")
      .split(":")
      .map((folder) => join(folder, name))
      .find(existsSync);
  const chromium = find("chromium");
  const chromedriver = find("chromedriver");
  return chromium && chromedriver ? { chromium, chromedriver } : null;
}

/** Makes PostgreSQL's programs available, and the browser's and Prometheus where they are asked for. */
export function ensureDebian({ needsPostgres, needsBrowser, needsPrometheus = false }) {
  const missing = [];
  if (needsPostgres && !postgresFolder()) missing.push("postgresql");
  if (needsBrowser && !browserPrograms()) missing.push("chromium", "chromium-driver");
  if (needsPrometheus && !existsSync(PROMETHEUS)) missing.push("prometheus");
  if (needsPrometheus && !existsSync(NODE_EXPORTER)) missing.push("prometheus-node-exporter");
  if (missing.length === 0) return;
  const command = `apt-get install -y --no-install-recommends ${missing.join(" ")}`;
  if (process.getuid?.() !== 0) giveUp(`missing from this machine: ${missing.join(", ")}. Install with: sudo ${command}`);
  say(`installing ${missing.join(", ")} from Debian's packages`);
  const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
  spawnSync("apt-get", ["update", "-q"], { stdio: "ignore", env });
  const result = spawnSync("sh", ["-c", `${command} -q`], { stdio: ["ignore", "ignore", 2], env });
  if (result.status !== 0) giveUp(`could not install them. By hand: ${command}`);
}
