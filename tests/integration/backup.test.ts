import { spawn, spawnSync } from "node:child_process";
import { randomBytes } from "node:crypto";
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, openServices } from "@/services/admin";
import { pauses, resumeRounds, runRound } from "@/services/rounds";
import { fleetList, openPool, resourceList } from "@/store";
import { freshDatabase, startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
const folder = mkdtempSync(join(tmpdir(), "umbrik-backup-"));
const file = join(folder, "everything.dump");
beforeAll(async () => {
  world = await startWorld();
  await runRound(world.services, DEMO_ACTOR, "act");
});
afterAll(async () => {
  await world.close();
  rmSync(folder, { recursive: true, force: true });
});

const KEY = randomBytes(32).toString("base64");
const run = (what: string, url: string, { path = file, key = KEY } = {}) =>
  spawnSync(process.execPath, ["bin/backup.mjs", what, path], {
    encoding: "utf8",
    env: { ...process.env, DATABASE_URL: url, UMBRIK_BACKUP_KEY: key },
  });

test("what is backed up comes back whole into an empty database, and the application goes on there", async () => {
  expect(run("backup", world.databaseUrl).status).toBe(0);
  const other = await freshDatabase();
  const restored = run("restore", other.url);
  expect(restored.stderr).toContain("is back, and paused");
  expect(restored.stderr).toMatch(/resumed, it acts on: skerry-\w+ \(\w+, http/);
  const services = openServices({ DATABASE_URL: other.url, UMBRIK_CLOCK_URL: `${world.standin.url}/clock` });
  expect(await resourceList(services.pool)).toEqual(await resourceList(world.services.pool));
  expect(await fleetList(services.pool)).toEqual(await fleetList(world.services.pool));
  await world.wait(60);
  // It looks and does nothing, until a person says that the other one is gone.
  const [pause] = await pauses(services, DEMO_ACTOR);
  expect(pause).toMatchObject({ account: null, person: "restore" });
  expect(await runRound(services, DEMO_ACTOR, "act")).toBe(2);
  await resumeRounds(services, DEMO_ACTOR, pause?.id ?? 0);
  expect(await pauses(services, DEMO_ACTOR)).toEqual([]);
  await services.pool.end();
  // Twice would mix two wholes: it is refused, and nothing is changed.
  const again = run("restore", other.url);
  expect(again).toMatchObject({ status: 1, stderr: expect.stringContaining("already exists") });
  const pool = openPool(other.url);
  expect((await pool.query("select count(*)::integer as n from round")).rows).toEqual([{ n: 2 }]);
  await pool.end();
  await other.drop();
});

test("what cannot be is a sentence, not a trace", () => {
  expect(run("restore", world.databaseUrl, { path: join(folder, "none") }).stderr).toMatch(/there is no such file\n$/);
  expect(run("backup", "postgres://nobody@127.0.0.1:9/none").stderr).toMatch(/^umbrik: pg_dump says: /);
  expect(run("explode", world.databaseUrl)).toMatchObject({ status: 2 });
});

test("only its owner may read a back-up, nothing in it can be read without its key, and a changed one is refused", async () => {
  expect(run("backup", world.databaseUrl).status).toBe(0);
  expect(statSync(file).mode & 0o777).toBe(0o600);
  const { rows: accounts } = await world.services.pool.query<{ key: string }>("select key from account");
  const bytes = readFileSync(file);
  for (const secret of [...accounts.map(({ key }) => key), "create table", "CREATE TABLE", "skerry-desks"])
    expect(bytes.includes(secret), secret).toBe(false);
  const other = await freshDatabase();
  expect(run("restore", other.url, { key: randomBytes(32).toString("base64") }).stderr).toContain(
    "the key is another, or the file was changed",
  );
  const changed = Buffer.from(bytes);
  changed[changed.length >> 1] = (changed[changed.length >> 1] as number) ^ 1;
  const path = join(folder, "changed.dump");
  writeFileSync(path, changed);
  expect(run("restore", other.url, { path }).stderr).toContain("the key is another, or the file was changed");
  writeFileSync(path, "PGDMP and whatever else");
  expect(run("restore", other.url, { path }).stderr).toContain("it is no back-up of Umbrik's");
  const pool = openPool(other.url);
  expect((await pool.query("select count(*)::integer as n from pg_tables where schemaname = 'public'")).rows).toEqual([{ n: 0 }]);
  await pool.end();
  await other.drop();
});

test("the password of the database stands in no list of processes", async () => {
  const { password } = new URL(world.databaseUrl);
  expect(password.length).toBeGreaterThan(8);
  const seen: string[] = [];
  const child = spawn(process.execPath, ["bin/backup.mjs", "backup", file], {
    env: { ...process.env, DATABASE_URL: world.databaseUrl, UMBRIK_BACKUP_KEY: KEY },
    stdio: "ignore",
  });
  let isEnded = false;
  child.on("close", () => {
    isEnded = true;
  });
  while (!isEnded) {
    for (const line of commandLines()) if (/pg_dump/.test(line)) seen.push(line);
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
  expect(seen.length).toBeGreaterThan(0);
  expect(seen.filter((line) => line.includes(password))).toEqual([]);
});

/** What any user of the machine reads of its processes. */
function commandLines(): string[] {
  return readdirSync("/proc").flatMap((name) => {
    if (!/^\d+$/.test(name)) return [];
    try {
      return [readFileSync(`/proc/${name}/cmdline`, "utf8").replaceAll("\0", " ")];
    } catch {
      return [];
    }
  });
}
