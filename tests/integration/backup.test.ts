import { spawnSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, openServices } from "@/services/admin";
import { runRound } from "@/services/rounds";
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

const run = (what: string, url: string, path = file) =>
  spawnSync(process.execPath, ["bin/backup.mjs", what, path], { encoding: "utf8", env: { ...process.env, DATABASE_URL: url } });

test("what is backed up comes back whole into an empty database, and the application goes on there", async () => {
  expect(run("backup", world.databaseUrl).status).toBe(0);
  const other = await freshDatabase();
  expect(run("restore", other.url).stderr).toContain("is back");
  const services = openServices({ DATABASE_URL: other.url, UMBRIK_CLOCK_URL: `${world.standin.url}/clock` });
  expect(await resourceList(services.pool)).toEqual(await resourceList(world.services.pool));
  expect(await fleetList(services.pool)).toEqual(await fleetList(world.services.pool));
  await world.wait(60);
  expect(await runRound(services, DEMO_ACTOR, "act")).toBe(2);
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
  expect(run("restore", world.databaseUrl, join(folder, "none")).stderr).toMatch(/there is no such file\n$/);
  expect(run("backup", "postgres://nobody@127.0.0.1:9/none").stderr).toMatch(/^umbrik: pg_dump says: /);
  expect(run("explode", world.databaseUrl)).toMatchObject({ status: 2 });
});
