import { afterAll, beforeAll, expect, test, vi } from "vitest";
import { asLevel } from "@/core/hours";
import type { Resource } from "@/core/plan";
import { DAY_S, utcDate } from "@/core/time";
import {
  asLeader,
  foldRecent,
  inTransaction,
  inTransactionAgain,
  livesOf,
  metricDays,
  migrate,
  openPool,
  overridePrices,
  type Pool,
  priceBooks,
  recentDays,
  recentSamples,
  resourceList,
  saveChanges,
  saveCursor,
  savePrices,
  saveRecent,
  saveResources,
} from "@/store";
import { aMachine } from "../support/make";
import { freshDatabase, storeOfTest } from "../support/world";

let pool: Pool;
let close: () => Promise<void>;
beforeAll(async () => {
  ({ pool, close } = await storeOfTest());
});
afterAll(() => close());

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

test("of two transactions that wait for each other the one that is ended is done again, whole", async () => {
  await pool.query("create table pair (name text primary key, n integer not null)");
  await pool.query("insert into pair values ('a', 0), ('b', 0)");
  let attempts = 0;
  let both = 0;
  const add = (first: string, second: string) =>
    inTransactionAgain(pool, async (tx) => {
      attempts++;
      await tx.query("update pair set n = n + 1 where name = $1", [first]);
      // Until each has its first row, or there is no other any more.
      both++;
      for (let i = 0; i < 20 && both < 2; i++) await new Promise((resolve) => setTimeout(resolve, 20));
      await tx.query("update pair set n = n + 1 where name = $1", [second]);
    });
  await Promise.all([add("a", "b"), add("b", "a")]);
  expect(attempts).toBe(3);
  expect((await pool.query("select n from pair order by name")).rows).toEqual([{ n: 2 }, { n: 2 }]);
  await pool.query("drop table pair");
  await expect(inTransactionAgain(pool, (tx) => tx.query("select 1 / 0"))).rejects.toThrow("division by zero");
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

test("one leader at a time; the lead is free again when the work throws", async () => {
  const inside = await asLeader(pool, "some", () => asLeader(pool, "some", async () => "both"));
  expect(inside).toBeNull();
  await expect(asLeader(pool, "some", () => Promise.reject(new Error("broke")))).rejects.toThrow("broke");
  expect(await asLeader(pool, "some", async () => "next")).toBe("next");
});

test("what a listing holds is stored; what is missing from it is gone, and comes back when it is listed again", async () => {
  const [one, two] = [aMachine({ name: "one" }), aMachine({ name: "two" })];
  await saveResources(pool, "a1", { resources: [one, two], at: 1_800_000_000 });
  expect((await resourceList(pool)).map(({ name }) => name).sort()).toEqual(["one", "two"]);
  await saveResources(pool, "a1", { resources: [one], at: 1_800_000_000 });
  expect((await resourceList(pool)).map(({ name }) => name)).toEqual(["one"]);
  await saveResources(pool, "a1", { resources: [one, two], at: 1_800_000_600 });
  expect(await resourceList(pool)).toHaveLength(2);
  const { rows } = await pool.query("select type, state from state_change where resource_id = 'two' order by at, n");
  expect(rows).toEqual([
    { type: "not listed since", state: "gone" },
    { type: "listed again", state: "running" },
  ]);
  await saveResources(pool, "a1", { resources: [], at: 1_800_000_000 });
});

test("what is listed just as it is stored is not written again; each thing that is listed otherwise is", async () => {
  const at = 1_800_000_000;
  await saveResources(pool, "a1", { resources: [aMachine({ name: "same" })], at });
  const stamp = async () =>
    (await pool.query<{ n: string }>("select changed_in::text as n from resource where id = 'same'")).rows;
  const before = await stamp();
  await saveResources(pool, "a1", { resources: [aMachine({ name: "same" })], at, known: await resourceList(pool) });
  expect(await stamp()).toEqual(before);
  const others: Partial<Resource>[] = [
    { name: "other" },
    { state: "stopping" },
    { level: asLevel(0), target: asLevel(1) },
    { level: asLevel(1), target: asLevel(0) },
    { levelMax: 2 },
    { since: 5 },
    { runSince: null },
    { cores: 8 },
    { memoryGib: 8 },
    { diskGib: 8 },
    { diskClass: "fast" },
    { addresses: 1 },
    { attachedTo: "a1:else" },
    { tags: {} },
    { tags: { team: "draughting", more: "" } },
    { tags: { team: "other" } },
    ...["region", "zone", "size", "os", "purchase"].map((key) => ({
      fields: { ...aMachine({ name: "same" }).fields, [key]: "elsewhere" },
    })),
  ];
  for (const other of others) {
    const listed = aMachine({ name: "same", id: "same", ...other });
    await saveResources(pool, "a1", { resources: [listed], at, known: await resourceList(pool) });
    const [stored] = await resourceList(pool);
    expect({ ...stored, due: null, fleet: null, why: "", earlier: [] }, JSON.stringify(other)).toMatchObject({
      ...other,
      ...(other.fields ? { fields: expect.objectContaining(other.fields) } : {}),
    });
    await saveResources(pool, "a1", { resources: [aMachine({ name: "same" })], at });
  }
  await saveResources(pool, "a1", { resources: [], at });
});

test("rows kept in memory are the very rows until something changes, and new ones at once when it does", async () => {
  await saveResources(pool, "a1", { resources: [aMachine({ name: "kept" })], at: 1_800_000_000 });
  const first = await resourceList(pool);
  expect(await resourceList(pool)).toBe(first);
  await pool.query("update resource set region = 'elsewhere' where name = 'kept'");
  expect((await resourceList(pool)).map(({ fields }) => fields.region)).toEqual(["elsewhere"]);
  await saveResources(pool, "a1", { resources: [], at: 1_800_000_000 });
});

/** Until no transaction is open that began before these rows were written; those of other databases on the server count too. */
const allSettled = () =>
  vi.waitUntil(
    async () =>
      (await pool.query("select 1 from resource where changed_in >= pg_snapshot_xmin(pg_current_snapshot())")).rows.length === 0,
    { timeout: 60_000, interval: 20 },
  );

test("of the rows kept only those that changed are read again, also by a transaction that took its time", async () => {
  await saveResources(pool, "a1", {
    resources: [aMachine({ name: "quiet" }), aMachine({ name: "slow" }), aMachine({ name: "swift" })],
    at: 1_800_000_000,
  });
  await allSettled();
  const [quiet] = await resourceList(pool);
  const slow = await pool.connect();
  await slow.query("begin");
  await slow.query("update resource set region = 'late' where name = 'slow'");
  const swift = pool.query("update resource set size = 'z9' where name = 'swift'");
  await slow.query("commit");
  slow.release();
  await swift;
  const now = await resourceList(pool);
  expect(now.map(({ name, fields }) => [name, fields.region === "late", fields.size === "z9"])).toEqual([
    ["quiet", false, false],
    ["slow", true, false],
    ["swift", false, true],
  ]);
  expect(now[0]).toBe(quiet);
  await pool.query("update resource set name = 'zealous' where name = 'quiet'");
  expect((await resourceList(pool)).map(({ name }) => name)).toEqual(["slow", "swift", "zealous"]);
  await saveResources(pool, "a1", { resources: [], at: 1_800_000_000 });
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
  await saveResources(pool, "a1", { resources: [machine], at: 1_800_000_000 });
  const [stored] = await resourceList(pool);
  expect(stored).toMatchObject({ ...machine, tags: { ...machine.tags } });
  await saveResources(pool, "a1", { resources: [], at: 1_800_000_000 });
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

test("a page of the feed stored twice counts once, and the cursor never goes back", async () => {
  const page = [event(1, 100, "running", 1), event(2, 200, "stopped", 0)];
  await saveChanges(pool, "a1", { changes: page, billedWhenHalted: false });
  await saveChanges(pool, "a1", { changes: page, billedWhenHalted: false });
  for (const n of [2, 1]) await saveCursor(pool, "a1", { last: n, base: 0, mark: null });
  expect(await count("state_change where source = 'feed'")).toBe(2);
  expect((await pool.query("select event_cursor from account where name = 'a1'")).rows[0].event_cursor).toBe("2");
});

test("a life goes back to where its run began, also through what was billed while shut down from inside", async () => {
  const halted = { ...event(17, 2000, "stopped", 0, "h"), state: "halted" as const, type: "halted" };
  const changes = [
    event(10, 1000, "running", 1, "s"),
    event(11, 2000, "stopping", 1, "s"),
    event(12, 2060, "stopped", 0, "s"),
    event(13, 3000, "running", 1, "s"),
    event(14, 10, "running", 3, "g"),
    event(15, 2500, "running", 5, "g"),
    event(16, 500, "running", 1, "h"),
    halted,
  ];
  await saveChanges(pool, "a1", { changes, billedWhenHalted: true });
  const lives = await livesOf(pool, ["s", "g", "h", "none"], { from: 2600, to: 4000 });
  const spans = (id: string) => (lives.get(id) ?? []).map(({ from, to, state, level }) => [from, to, state, level]);
  expect(spans("s")).toEqual([
    [2060, 3000, "stopped", 0],
    [3000, 4000, "running", 1],
  ]);
  expect(spans("g")).toEqual([
    [10, 2500, "running", 3],
    [2500, 4000, "running", 5],
  ]);
  expect(spans("h")).toEqual([
    [500, 2000, "running", 1],
    [2000, 4000, "halted", 0],
  ]);
  expect(spans("none")).toEqual([]);
});

test("prices keep every decimal and their history; what a person sets goes before, until they end it", async () => {
  const price = { region: "r", item: "compute" as const, size: "s", os: "", purchase: "", class: "", zone: "", coresMin: 0 };
  const query = { provider: "p1", region: "r", item: "compute" as const, size: "s" };
  const rateAt = async (t: number) => (await priceBooks(pool)).history.bookAt(t).find(query)?.rate;
  await savePrices(pool, "p1", { prices: [{ ...price, rate: "9" }], from: 200 });
  await savePrices(pool, "p1", { prices: [{ ...price, rate: "0.123456789" }], from: 100 });
  await savePrices(pool, "p1", { prices: [{ ...price, rate: "9.000" }], from: 300 });
  expect(await rateAt(150)).toBe("0.123456789");
  expect(await rateAt(250)).toBe("9");
  expect(await rateAt(1), "before the first that is known").toBe("0.123456789");
  expect((await pool.query("select count(*)::integer as n from price where region = 'r'")).rows[0].n, "no news, no line").toBe(2);

  const hand = { ...price, provider: "p1", source: "hand" as const, person: "ada" };
  await overridePrices(pool, [{ ...hand, rate: "5", validFrom: 150 }]);
  await overridePrices(pool, [{ ...hand, rate: null, validFrom: 220 }]);
  expect(await Promise.all([149, 150, 219, 220].map(rateAt))).toEqual(["0.123456789", "5", "5", "9"]);
});

test("the tables refuse what the rules forbid", async () => {
  await expect(
    pool.query(
      "insert into price (provider, region, item, size, os, purchase, class, rate, cores_min, valid_from) values ('p','r','i','','','','',-1,0,now())",
    ),
  ).rejects.toThrow(/rate/);
  await expect(pool.query("insert into last_due values ('x', -1)")).rejects.toThrow(/level/);
  await expect(pool.query("insert into round (mode, asked_by, at, status) values ('guess', 'x', now(), 'done')")).rejects.toThrow(
    /mode/,
  );
});

test("the database adds up and rounds as the core does, to the millionth, over random runs", async () => {
  const { costOver, noCost, totalOf } = await import("@/core/spend");
  const { rateCard, priceBook, microsOf } = await import("@/core/pricing");
  const { closeDays, spendTotals } = await import("@/store");
  const { aMachine, PROVIDER } = await import("../support/make");
  let seed = 7;
  const random = (n: number) => {
    seed = (seed * 48_271) % 2_147_483_647;
    return seed % n;
  };
  const entry = (item: "compute" | "disk", rate: string) => ({
    region: "fjord-1",
    item,
    size: "",
    os: "",
    purchase: "",
    class: "",
    zone: "",
    rate,
    coresMin: 0,
  });
  const spend = Array.from({ length: 3000 }, (_, i) => {
    const book = priceBook(
      new Map([["p1", [entry("compute", `0.${1 + random(999_999_998)}`), entry("disk", `0.0${1 + random(9_999_999)}`)]]]),
    );
    const card = rateCard(aMachine({ diskGib: 1 + random(500) }), book, PROVIDER);
    const from = random(80_000);
    const life = [{ from, to: from + 1 + random(6000), state: "running" as const, level: 1 as never }];
    const cost = { ...noCost(), ...costOver({ life, cards: [{ from: 0, card }], from: 0, to: 86_400, knownTo: 90_000 }) };
    return { resourceId: `random-${i}`, day: `2026-05-0${1 + (i % 5)}`, cost };
  });
  await closeDays(pool, { spend, from: "2026-05-01", through: "2026-05-05", epoch: "0", at: 0 });
  for (const { day, micros } of await spendTotals(pool, { from: "2026-05-01", to: "2026-05-05" })) {
    const sum = spend.filter((one) => one.day === day).reduce((total, { cost }) => total + totalOf(cost), 0n);
    expect(micros, day).toBe(microsOf(sum as Parameters<typeof microsOf>[0]));
  }
  // And one by one, where halves are: 1, 3 and 5 halves of a millionth.
  const { rows } = await pool.query<{ m: string }>(
    "select micros_of(n * 1314000000::numeric)::text as m from unnest(array[1, 3, 5, -1, -3]) as n",
  );
  expect(rows.map(({ m }) => Number(m))).toEqual([0, 2, 2, 0, -2]);
});

test("samples come back as they went in: odd names, any number, many at once, and a slot told twice as told last", async () => {
  const at = 1_800_000_000;
  const values = [0, -1.5, 1e300, 5e-324, 0.1, -123_456.789];
  const many = Array.from({ length: 12_000 }, (_, i) => ({ metric: "many", at: at - 60 * i, value: i / 7 }));
  const told = [
    ...values.map((value, i) => ({ metric: `odd \t\\ ${i} "ø漢"`, at: at + i, value })),
    ...many,
    { metric: "many", at, value: 42 },
  ].map((one) => ({ resourceId: "a1:tab\there, 漢", stepS: 60, ...one }));
  await saveRecent(pool, told);
  const read = async (metric: string) =>
    (
      (await recentSamples(pool, { ids: ["a1:tab\there, 漢"], metrics: [metric], from: at - 1_000_000, to: at + 60 })).get(
        "a1:tab\there, 漢",
      ) ?? []
    ).map(({ at: t, value }) => [t, value]);
  for (const [i, value] of values.entries()) expect(await read(`odd \t\\ ${i} "ø漢"`)).toEqual([[at + i, value]]);
  const back = await read("many");
  expect(back).toEqual([
    ...many
      .slice(1)
      .map((one) => [one.at, one.value])
      .reverse(),
    [at, 42],
  ]);
  await foldRecent(pool, Math.ceil(at / DAY_S) * DAY_S);
  expect(await recentDays(pool)).toEqual([]);
  const [day] = await metricDays(pool, {
    ids: ["a1:tab\there, 漢"],
    metric: "many",
    from: utcDate(at - DAY_S),
    to: utcDate(at - DAY_S),
  });
  expect(day?.samples).toHaveLength(1440);
  expect(day?.samples.filter((one) => one !== null)).toHaveLength(1440);
  // A day that another process dropped is made again.
  await saveRecent(pool, [{ resourceId: "m", metric: "many", at, stepS: 60, value: 1 }]);
  await pool.query(`drop table metric_recent_${utcDate(at).replaceAll("-", "_")}`);
  await saveRecent(pool, [{ resourceId: "m", metric: "many", at, stepS: 60, value: 2 }]);
  expect(await recentDays(pool)).toEqual([utcDate(at)]);
  // What comes once a day is folded is too late for it; a day nobody has reached yet stays.
  await foldRecent(pool, Math.floor(at / DAY_S) * DAY_S);
  expect(await recentDays(pool)).toEqual([utcDate(at)]);
  await foldRecent(pool, Math.ceil(at / DAY_S) * DAY_S);
});

test("what is asked again and again is kept ready on its connection, and goes on after its table was changed", async () => {
  await pool.query("create table odd (a integer)");
  const client = await pool.connect();
  const ask = (a: number) => client.query("select * from odd where a = $1", [a]);
  for (let a = 0; a < 5; a++) expect((await ask(a)).fields).toHaveLength(1);
  const { rows } = await client.query("select count(*)::integer as n from pg_prepared_statements where statement like $1", [
    "select * from odd%",
  ]);
  expect(rows).toEqual([{ n: 1 }]);
  await pool.query("alter table odd add column b integer");
  await expect(ask(1)).rejects.toThrow(/must not change result type/);
  expect((await ask(1)).fields).toHaveLength(2);
  client.release();
  await pool.query("drop table odd");
});
