import { afterAll, beforeAll, expect, test } from "vitest";
import { asLevel } from "@/core/hours";
import {
  asLeader,
  currentPrices,
  inTransaction,
  migrate,
  openPool,
  type Pool,
  runningList,
  runsOf,
  saveChanges,
  savePrices,
  saveResources,
} from "@/store";
import { aMachine } from "../support/make";
import { freshDatabase } from "../support/world";

let pool: Pool;
let drop: () => Promise<void>;
beforeAll(async () => {
  const database = await freshDatabase();
  drop = database.drop;
  pool = openPool(database.url);
  await migrate(pool, "db/migrations");
  await pool.query("insert into account (name, provider, base_url, key) values ('a1', 'p1', 'http://x', 'k')");
});
afterAll(async () => {
  await pool.end();
  await drop();
});

const count = async (table: string) => (await pool.query(`select count(*)::integer as n from ${table}`)).rows[0].n as number;

test("migrations run once each, also when two processes start together", async () => {
  const database = await freshDatabase();
  const [one, other] = [openPool(database.url), openPool(database.url)];
  const ran = await Promise.all([migrate(one, "db/migrations"), migrate(other, "db/migrations")]);
  expect(new Set(ran.flat()).size).toBe(ran.flat().length);
  expect(await migrate(one, "db/migrations")).toEqual([]);
  await Promise.all([one.end(), other.end()]);
  await database.drop();
});

test("a transaction that throws leaves nothing behind and gives its connection back", async () => {
  for (let i = 0; i < 20; i++) {
    await expect(
      inTransaction(pool, async (tx) => {
        await tx.query("insert into last_due (resource_id, level) values ('x', 1)");
        throw new Error("half-way");
      }),
    ).rejects.toThrow("half-way");
  }
  expect(await count("last_due")).toBe(0);
});

test("a transaction whose connection dies reports the first error", async () => {
  await expect(
    inTransaction(pool, async (tx) => {
      await tx.query("select pg_terminate_backend(pg_backend_pid())");
    }),
  ).rejects.toThrow(/terminat/);
  expect(await count("last_due")).toBe(0);
});

test("one leader at a time; the lock is free again when the work throws", async () => {
  const inside = await asLeader(pool, 99, () => asLeader(pool, 99, async () => "both"));
  expect(inside).toBeNull();
  await expect(asLeader(pool, 99, () => Promise.reject(new Error("broke")))).rejects.toThrow("broke");
  expect(await asLeader(pool, 99, async () => "next")).toBe("next");
});

test("what a listing holds is stored; what is missing from it is gone, and comes back when it is listed again", async () => {
  const [one, two] = [aMachine({ name: "one" }), aMachine({ name: "two" })];
  await saveResources(pool, "a1", [one, two]);
  expect((await runningList(pool)).map(({ name }) => name).sort()).toEqual(["one", "two"]);
  await saveResources(pool, "a1", [one]);
  expect((await runningList(pool)).map(({ name }) => name)).toEqual(["one"]);
  await saveResources(pool, "a1", [one, two]);
  expect(await runningList(pool)).toHaveLength(2);
  await saveResources(pool, "a1", []);
});

test("rows kept in memory are the very rows until something changes, and new ones at once when it does", async () => {
  await saveResources(pool, "a1", [aMachine({ name: "kept" })]);
  const first = await runningList(pool);
  expect(await runningList(pool)).toBe(first);
  await pool.query("update resource set region = 'elsewhere' where name = 'kept'");
  expect((await runningList(pool)).map(({ fields }) => fields.region)).toEqual(["elsewhere"]);
  await saveResources(pool, "a1", []);
});

test("a stored resource reads back as it was listed", async () => {
  const machine = aMachine({
    name: "whole",
    state: "starting",
    level: asLevel(1),
    since: 1_800_000_001,
    runSince: 1_800_000_000,
    addresses: 2,
    tags: { "odd key": 'quote " and \\' },
  });
  await saveResources(pool, "a1", [machine]);
  const [stored] = await runningList(pool);
  expect(stored).toMatchObject({ ...machine, tags: { ...machine.tags } });
  await saveResources(pool, "a1", []);
});

const event = (n: number, at: number, state: "running" | "stopped" | "stopping", level: number, resourceId = "r") => ({
  n,
  resourceId,
  at,
  type: state,
  state,
  level: asLevel(level),
  note: "",
});

test("a page of the feed stored twice counts once, and moves the cursor once", async () => {
  const page = [event(1, 100, "running", 1), event(2, 200, "stopped", 0)];
  await saveChanges(pool, "a1", page);
  await saveChanges(pool, "a1", page);
  expect(await count("state_change")).toBe(2);
  expect((await pool.query("select event_cursor from account where name = 'a1'")).rows[0].event_cursor).toBe(2);
});

test("runs are cut to the window, joined over a stopping, and the one that began before it counts", async () => {
  await saveChanges(pool, "a1", [
    event(10, 1000, "running", 1, "s"),
    event(11, 2000, "stopping", 1, "s"),
    event(12, 2060, "stopped", 0, "s"),
    event(13, 3000, "running", 1, "s"),
    event(14, 10, "running", 3, "g"),
    event(15, 2500, "running", 5, "g"),
  ]);
  const runs = await runsOf(pool, ["s", "g", "none"], { from: 1500, to: 4000 });
  expect(runs.get("s")).toEqual([
    { from: 1500, to: 2060, level: 1 },
    { from: 3000, to: 4000, level: 1 },
  ]);
  expect(runs.get("g")).toEqual([
    { from: 1500, to: 2500, level: 3 },
    { from: 2500, to: 4000, level: 5 },
  ]);
  expect(runs.get("none")).toEqual([]);
});

test("prices keep every decimal, and a newer list replaces the older", async () => {
  const price = { region: "r", item: "compute" as const, size: "s", os: "", purchase: "", class: "", coresMin: 0 };
  await savePrices(pool, "p1", { prices: [{ ...price, rate: "0.123456789" }], at: 1 });
  expect((await currentPrices(pool)).find({ provider: "p1", region: "r", item: "compute", size: "s" })?.rate).toBe("0.123456789");
  await savePrices(pool, "p1", { prices: [{ ...price, rate: "9" }], at: 2 });
  expect(Number((await currentPrices(pool)).find({ provider: "p1", region: "r", item: "compute", size: "s" })?.rate)).toBe(9);
});

test("the tables refuse what the rules forbid", async () => {
  await expect(
    pool.query(
      "insert into price (provider, region, item, size, os, purchase, class, rate, cores_min, read_at) values ('p','r','i','','','','',-1,0,now())",
    ),
  ).rejects.toThrow(/rate/);
  await expect(pool.query("insert into last_due values ('x', -1)")).rejects.toThrow(/level/);
  await expect(pool.query("insert into round (mode, asked_by, at, status) values ('guess', 'x', now(), 'done')")).rejects.toThrow(
    /mode/,
  );
});
