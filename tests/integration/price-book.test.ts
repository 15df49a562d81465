import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, RefusedError, type Services, WORKER } from "@/services/admin";
import {
  addCommitment,
  addDiscount,
  burnPage,
  closeSpendDays,
  dropCommitment,
  dropDiscount,
  importCommitments,
  importPrices,
  overridePrice,
  priceBookView,
  priceLines,
  pricesCsv,
  undoPrices,
} from "@/services/cost";
import { runRound } from "@/services/rounds";
import { correctionsOf } from "@/services/usage";
import { closeDays, closedDay, priceBooks, spendClosed, spendCorrections, spendDayList } from "@/store";
import { startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
let services: Services;
beforeAll(async () => {
  world = await startWorld();
  services = world.services;
  await runRound(services, DEMO_ACTOR, "act");
  await closeSpendDays(services, WORKER);
});
afterAll(() => world.close());

const ONE_DESK = {
  filters: ["name = desk-osl-07"],
  group: "none",
  sort: "name",
  isDescending: false,
  only: "all",
  opened: [],
  offset: 0,
  limit: 9,
} as const;
const view = () => priceBookView(services, DEMO_ACTOR);
const lantern = async () => (await view()).rows.find(({ key }) => key === "norrhav | fjord-1 | compute | lantern-8 |  | firm | ");
const costOn = async (day: string) => {
  const id = (await services.pool.query<{ id: string }>("select id from resource where name = 'desk-osl-07'")).rows[0]?.id ?? "";
  return Number((await spendDayList(services.pool, { from: day, to: day, ids: [id] }))[0]?.cost.compute) / 2_628_000_000 / 1e6;
};

test("a rate set by hand counts from its day on, before what the provider says; past days before it keep theirs", async () => {
  const row = await lantern();
  expect(row).toMatchObject({ rate: "1.142", source: "provider", unit: "hour", told: null });
  expect(await costOn("2027-03-09")).toBeCloseTo(24 * 1.142, 4);
  await overridePrice(services, DEMO_ACTOR, { key: row?.key ?? "", rate: "0.9", fromDay: "2027-03-09" });
  expect(await closedDay(services.pool)).toBe("2027-03-08");
  await closeSpendDays(services, WORKER);
  expect(await lantern()).toMatchObject({ rate: "0.9", source: "hand", told: "1.142" });
  expect(await costOn("2027-03-09")).toBeCloseTo(24 * 0.9, 4);
  expect(await costOn("2027-03-08")).toBeCloseTo(24 * 1.142, 4);
  await overridePrice(services, DEMO_ACTOR, { key: row?.key ?? "", rate: null, fromDay: "2027-03-10" });
  await closeSpendDays(services, WORKER);
  expect(await costOn("2027-03-10")).toBeCloseTo(24 * 1.142, 4);
  expect(await lantern()).toMatchObject({ rate: "1.142", source: "provider" });
  const { lines, isMore } = await priceLines(services, DEMO_ACTOR, { key: row?.key ?? "", before: null });
  expect(lines.filter(({ source }) => source === "hand").map(({ rate, person }) => [rate, person])).toEqual([
    [null, DEMO_ACTOR.name],
    ["0.9", DEMO_ACTOR.name],
  ]);
  expect(isMore).toBe(false);
});

test("a correction of many days knows its causes on every one of them, however many stretches it is reckoned in", async () => {
  const key = (await lantern())?.key ?? "";
  await overridePrice(services, DEMO_ACTOR, { key, rate: "0.8", fromDay: "2027-02-15" });
  // Another from a later day, while those are open still.
  const other = (await view()).rows.find(
    ({ key: one }) => one !== key && one.startsWith("norrhav | fjord-1 | compute | ketch-8"),
  )?.key;
  await overridePrice(services, DEMO_ACTOR, { key: other ?? "", rate: "0.3", fromDay: "2027-02-25" });
  const before = (await spendCorrections(services.pool, { from: "2027-02-15", to: "2027-03-10" })).map(({ id }) => id);
  await closeSpendDays(services, WORKER);
  const made = (await spendCorrections(services.pool, { from: "2027-02-15", to: "2027-03-10" })).filter(
    ({ id }) => !before.includes(id),
  );
  expect(made.length).toBeGreaterThan(20);
  for (const { day, causes, persons } of made) {
    expect(causes, day).toContain("lantern-8");
    expect(causes.includes("ketch-8"), day).toBe(day >= "2027-02-25");
    expect(persons, day).toContain(DEMO_ACTOR.name);
  }
  // Once all of them are closed the causes are told of nothing else.
  const { rows } = await services.pool.query("select from spend_reopening where is_open");
  expect(rows).toHaveLength(0);
  await overridePrice(services, DEMO_ACTOR, { key, rate: null, fromDay: "2027-02-15" });
  await overridePrice(services, DEMO_ACTOR, { key: other ?? "", rate: null, fromDay: "2027-02-25" });
  await closeSpendDays(services, WORKER);
});

test("as of one instant after another a machine that runs all along costs what counted then, whatever was looked at before", async () => {
  const rate = async (day: number) => {
    const [desk] = (await burnPage(services, DEMO_ACTOR, { ...ONE_DESK, at: Date.UTC(2027, 2, day, 12) / 1000 })).lines;
    return Number(desk?.perHour);
  };
  // Dear until the eighth, 0.9 an hour on the ninth, dear again from the tenth on.
  const [dear, cheap] = [await rate(8), await rate(9)];
  expect(dear - cheap).toBeCloseTo(1.142 - 0.9, 2);
  expect([await rate(10), await rate(9), await rate(8), await rate(9)]).toEqual([dear, cheap, dear, cheap]);
});

test("what is no rate, no day or no line is refused, with the field", async () => {
  const key = (await lantern())?.key ?? "";
  await expect(overridePrice(services, DEMO_ACTOR, { key, rate: "-1", fromDay: "2027-02-30" })).rejects.toMatchObject({
    fields: [{ path: "rate" }, { path: "fromDay" }],
  });
  await expect(overridePrice(services, DEMO_ACTOR, { key: "x", rate: "1", fromDay: "2027-03-01" })).rejects.toThrow(
    "no such line",
  );
});

test("a discount is off what the provider asks on its days, the largest that fits, and not off what was set by hand", async () => {
  const draft = {
    provider: "norrhav",
    item: "compute",
    size: "",
    purchase: "firm",
    percent: "10",
    from: "2027-03-05",
    to: "2027-03-06",
  };
  await addDiscount(services, DEMO_ACTOR, draft);
  await addDiscount(services, DEMO_ACTOR, { ...draft, percent: "25.5", from: "2027-03-06" });
  await closeSpendDays(services, WORKER);
  expect(await costOn("2027-03-04")).toBeCloseTo(24 * 1.142, 4);
  expect(await costOn("2027-03-05")).toBeCloseTo(24 * 1.142 * 0.9, 4);
  expect(await costOn("2027-03-06")).toBeCloseTo(24 * 1.142 * 0.745, 4);
  expect(await costOn("2027-03-07")).toBeCloseTo(24 * 1.142, 4);
  for (const { id } of (await view()).discounts) await dropDiscount(services, DEMO_ACTOR, id);
  await closeSpendDays(services, WORKER);
  expect(await costOn("2027-03-06")).toBeCloseTo(24 * 1.142, 4);
  await expect(dropDiscount(services, DEMO_ACTOR, 99)).rejects.toThrow("gone already");
  const wrong = { provider: "nowhere", item: "tea", size: "", purchase: "", percent: "101", from: "x", to: "y" };
  await expect(addDiscount(services, DEMO_ACTOR, wrong)).rejects.toMatchObject({
    fields: [{ path: "provider" }, { path: "item" }, { path: "percent" }, { path: "from" }, { path: "to" }],
  });
});

const HEADER = "provider,region,item,size,os,purchase,class,rate,cores_min,valid_from,currency";

test("what floats has a price in each zone, told and set apart; a file may name zones or leave them out", async () => {
  const spot = (await view()).rows.filter(
    ({ of: { region, item, size, purchase, os } }) =>
      region === "fjord-1" && item === "compute" && size === "ketch-8" && purchase === "spot" && os === "linux",
  );
  expect(spot.map(({ what }) => what)).toEqual(
    ["fjord-1a", "fjord-1b", "fjord-1c"].map((zone) => `ketch-8, linux, spot, ${zone}`),
  );
  expect(new Set(spot.map(({ rate }) => rate)).size).toBe(3);
  const header = HEADER.replace("class,", "class,zone,");
  const line = (zone: string) => `norrhav,fjord-1,compute,ketch-8,linux,spot,,${zone},0.2,0,2027-03-12,EUR`;
  await expect(importPrices(services, DEMO_ACTOR, { text: [header, line("tasman-2a")].join("\n") })).rejects.toMatchObject({
    fields: [{ message: 'line 2: zone "tasman-2a" is none of fjord-1' }],
  });
  const { importId } = await importPrices(services, DEMO_ACTOR, { text: [header, line("fjord-1b")].join("\n") });
  const { history } = await priceBooks(services.pool);
  const at = (zone: string) => {
    const query = { provider: "norrhav", region: "fjord-1", zone, item: "compute" as const, size: "ketch-8", os: "linux" };
    return history.bookAt(Date.UTC(2027, 2, 12, 12) / 1000).find({ ...query, purchase: "spot" })?.rate;
  };
  expect(at("fjord-1b")).toBe("0.2");
  expect(at("fjord-1a")).not.toBe("0.2");
  await undoPrices(services, DEMO_ACTOR, importId ?? 0);
});

test("prices come in as CSV, all or none, with every wrong line named, and go out so that they come in again", async () => {
  const good = "norrhav,fjord-1,compute,sloop-4,,firm,,0.15,0,2027-03-11,EUR";
  const wrong = [
    "nowhere,fjord-1,compute,sloop-4,,firm,,0.15,0,2027-03-11,EUR",
    "norrhav,atlantis,compute,sloop-4,,firm,,0.15,0,2027-03-11,EUR",
    "norrhav,fjord-1,tea,sloop-4,,firm,,0.15,0,2027-03-11,EUR",
    "norrhav,fjord-1,compute,sloop-4,,firm,,-0.15,0,2027-03-11,EUR",
    "norrhav,fjord-1,compute,sloop-4,,firm,,0.15,x,2027-03-11,EUR",
    "norrhav,fjord-1,compute,sloop-4,,firm,,0.15,0,31.12.2027,EUR",
    "norrhav,fjord-1,compute,sloop-4,,firm,,0.15,0,2027-03-11,USD",
    "norrhav,fjord-1",
  ];
  const before = (await view()).rows;
  const refusal = await importPrices(services, DEMO_ACTOR, { text: [HEADER, good, ...wrong].join("\n") }).catch(
    (error: unknown) => error,
  );
  expect(refusal).toBeInstanceOf(RefusedError);
  expect((refusal as RefusedError).fields.map(({ message }) => message.slice(0, 30))).toEqual([
    'line 3: provider "nowhere": ex',
    'line 4: region "atlantis" is n',
    'line 5: item "tea": expected o',
    'line 6: rate "-0.15": expected',
    'line 7: cores_min "x": expecte',
    'line 8: valid_from "31.12.2027',
    'line 9: currency "USD": expect',
    "line 10: 2 cells, and the head",
  ]);
  expect((await view()).rows).toEqual(before);
  await expect(importPrices(services, DEMO_ACTOR, { text: "a,b\n1,2" })).rejects.toThrow("missing: provider");
  const text = [HEADER, good].join("\r\n");
  const differences = [
    { what: expect.stringContaining("fjord-1 compute sloop-4"), day: "2027-03-11", from: "0.1685", to: "0.15" },
  ];
  expect(await importPrices(services, DEMO_ACTOR, { text, isTrial: true })).toEqual({
    lines: 1,
    same: 0,
    free: 0,
    differences,
    importId: null,
  });
  expect((await view()).rows, "a trial takes nothing in").toEqual(before);
  expect(await importPrices(services, DEMO_ACTOR, { text })).toMatchObject({ lines: 1, differences });
  expect((await view()).rows.find(({ key }) => key.includes("fjord-1 | compute | sloop-4"))).toMatchObject({ rate: "0.15" });
  const after = (await view()).rows;
  const saved = await pricesCsv(services, DEMO_ACTOR, null);
  expect(await importPrices(services, DEMO_ACTOR, { text: saved.text }), "read back unchanged").toEqual({
    lines: 0,
    same: before.length,
    free: 0,
    differences: [],
    importId: null,
  });
  expect((await view()).rows, "and nothing more is set by hand").toEqual(after);
});

test("a file of prices is taken back as one, but for what was set otherwise since, and only once", async () => {
  const lines = (await pricesCsv(services, DEMO_ACTOR, null)).text.trim().split("\r\n");
  const rateAt = (lines[0] ?? "").split(",").indexOf("rate");
  const costly = lines.filter((line, i) => i === 0 || Number(line.split(",")[rateAt]) > 0);
  const doubled = costly.slice(0, 12).map((line, i) => {
    const cells = line.split(",");
    if (i > 0) cells[rateAt] = i === 1 ? "0" : String(Number(cells[rateAt]) * 2);
    return cells.join(",");
  });
  const before = (await view()).rows;
  const first = await importPrices(services, DEMO_ACTOR, { text: doubled.join("\r\n") });
  expect(first).toMatchObject({ lines: 11, free: 1 });
  const { lastImport, rows } = await view();
  expect(lastImport).toMatchObject({ id: first.importId, lines: 11 });
  expect(rows).not.toEqual(before);
  await undoPrices(services, DEMO_ACTOR, first.importId ?? 0);
  expect((await view()).rows).toEqual(before);
  await expect(undoPrices(services, DEMO_ACTOR, first.importId ?? 0)).rejects.toThrow("taken back already");
  // One of them is set by a person after the file: that one stays.
  const again = await importPrices(services, DEMO_ACTOR, { text: doubled.join("\r\n") });
  const changed = (await view()).rows.find(
    (row) => row.source === "hand" && !before.some((old) => old.key === row.key && old.rate === row.rate),
  );
  if (!changed) throw new Error("nothing was set");
  const fromDay = new Date(changed.since * 1000).toISOString().slice(0, 10);
  await overridePrice(services, DEMO_ACTOR, { key: changed.key, rate: "7.5", fromDay });
  expect(await undoPrices(services, DEMO_ACTOR, again.importId ?? 0)).toEqual({ back: 10, kept: 1 });
  const after = (await view()).rows;
  expect(after.filter((row, i) => JSON.stringify(row) !== JSON.stringify(before[i])).map(({ key, rate }) => [key, rate])).toEqual(
    [[changed.key, "7.5"]],
  );
  await overridePrice(services, DEMO_ACTOR, { key: changed.key, rate: null, fromDay });
});

const DRAFT = {
  provider: "norrhav",
  account: "",
  region: "fjord-1",
  size: "lantern-8",
  units: "2",
  fee_per_hour: "1.5",
  from: "2027-03-09",
  to: "2027-12-31",
};

test("a commitment entered by hand is netted from its day on, in Burn and in the days; taken away, it never was", async () => {
  const query = { ...ONE_DESK, at: null };
  const before = (await burnPage(services, DEMO_ACTOR, query)).shown.perHour;
  await addCommitment(services, DEMO_ACTOR, DRAFT);
  await closeSpendDays(services, WORKER);
  const after = (await burnPage(services, DEMO_ACTOR, query)).shown.perHour;
  expect(Number(after)).toBeLessThan(Number(before));
  const [fee] = (await spendDayList(services.pool, { from: "2027-03-09", to: "2027-03-09" })).filter(
    ({ resourceId, cost }) => resourceId.startsWith("commitment:") && cost.compute === 36n * 2_628_000_000n * 1_000_000n,
  );
  expect(fee).toBeDefined();
  const own = (await view()).commitments.find(({ source }) => source === "hand");
  await dropCommitment(services, DEMO_ACTOR, own?.id ?? 0);
  await closeSpendDays(services, WORKER);
  expect((await burnPage(services, DEMO_ACTOR, query)).shown.perHour).toBe(before);
  const listed = (await view()).commitments.find(({ source }) => source === "provider");
  await expect(dropCommitment(services, DEMO_ACTOR, listed?.id ?? 0)).rejects.toThrow("only the provider");
});

test.each([
  [{ provider: "nowhere" }, "provider"],
  [{ account: "nobody" }, "account"],
  [{ region: "atlantis" }, "region"],
  [{ size: "" }, "size"],
  [{ units: "1.5" }, "units"],
  [{ fee_per_hour: "1,5" }, "fee_per_hour"],
  [{ from: "2027-02-30" }, "from"],
  [{ to: "2027-03-08" }, "to"],
])("a commitment with %j is refused at that field", async (change, path) => {
  await expect(addCommitment(services, DEMO_ACTOR, { ...DRAFT, ...change })).rejects.toMatchObject({ fields: [{ path }] });
});

test("commitments come in as CSV, all or none", async () => {
  const header = "provider,account,region,size,units,fee_per_hour,from,to";
  const line = "norrhav,,fjord-1,brig-16,1,0.5,2027-03-11,2027-12-31";
  await expect(importCommitments(services, DEMO_ACTOR, `${header}\n${line}\n${line.replace("0.5", "x")}`)).rejects.toThrow(
    "1 wrong line",
  );
  expect((await view()).commitments).toHaveLength(1);
  expect(await importCommitments(services, DEMO_ACTOR, `${header}\n${line}`)).toEqual({ lines: 1 });
});

test("a price that is entered while a day closes is not lost: nothing is closed on the old one, and the next closing has it", async () => {
  const { pool } = services;
  const { epoch } = await spendClosed(pool);
  const row = await lantern();
  await overridePrice(services, DEMO_ACTOR, { key: row?.key ?? "", rate: "0.7", fromDay: "2027-03-09" });
  // What was reckoned before the price came is turned away.
  const old = { spend: [], from: "2027-03-09", through: "2027-03-10", epoch, at: 0 };
  expect(await closeDays(pool, old)).toBe(false);
  await closeSpendDays(services, WORKER);
  expect(await costOn("2027-03-09")).toBeCloseTo(24 * 0.7, 4);
  const traces = await correctionsOf(services, DEMO_ACTOR, { from: "2027-03-09", to: "2027-03-09" });
  const trace = traces.find(({ causes }) => causes.includes("set to 0.7"));
  expect(trace).toMatchObject({ day: "2027-03-09", persons: "demo" });
  expect(Number(trace?.after.replace(/\s/g, ""))).toBeLessThan(Number(trace?.before.replace(/\s/g, "")));
});
