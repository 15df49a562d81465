import { Readable } from "node:stream";
import { gzipSync } from "node:zlib";
import Papa from "papaparse";
import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, type Services, WORKER } from "@/services/admin";
import { closeSpendDays, spendOfDay } from "@/services/cost";
import { runRound } from "@/services/rounds";
import {
  cancelImport,
  exportFocus,
  imports,
  openImport,
  pullUsage,
  receiveImport,
  reconcile,
  runErase,
  runImport,
  takeBackImport,
} from "@/services/usage";
import { billedDays } from "@/store";
import { startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
let services: Services;
beforeAll(async () => {
  world = await startWorld();
  services = world.services;
  await runRound(services, DEMO_ACTOR, "act");
});
afterAll(() => world.close());

const HEADER = "BillingCurrency,BilledCost,ChargeCategory,ChargePeriodStart,ChargePeriodEnd,ResourceId,SubAccountId,Tags,x_Own";
const line = (i: number, more: { cost?: string; currency?: string; from?: string; category?: string; tags?: string } = {}) =>
  `${more.currency ?? "EUR"},${more.cost ?? "0.010001"},${more.category ?? "Usage"},${more.from ?? "2027-02-20T00:00:00Z"},2027-02-21T00:00:00Z,r-${i},acc,${more.tags ?? ""},own ${i}`;
const fileOf = (lines: readonly string[], newline = "\n") => [HEADER, ...lines].join(newline) + newline;

function* piecesOf(text: string): Generator<Buffer> {
  const bytes = Buffer.from(text);
  for (let at = 0; at < bytes.length; at += 65_536) yield bytes.subarray(at, at + 65_536);
}

async function bring(text: string, fileName = "bill.csv"): Promise<number> {
  return receiveImport(services, DEMO_ACTOR, { fileName, bytes: Readable.from(piecesOf(text)) });
}
const countOf = async (id: number) =>
  (
    await services.pool.query<{ n: number; sum: string }>(
      "select count(*)::integer as n, coalesce(sum(billed), 0)::text as sum from usage_line where import_id = $1",
      [id],
    )
  ).rows[0];

test("a file is taken in whole, its lines as they stand, and what cannot be is refused line by line with why", async () => {
  const text = fileOf([
    ...Array.from({ length: 500 }, (_, i) => line(i)),
    line(900, { cost: "-5" }),
    line(901, { currency: "USD" }),
    line(902, { from: "2027-02-30T00:00:00Z" }),
    line(903, { tags: `"{""${"k".repeat(200)}"":""${"v".repeat(200)}""}"` }),
    "too,few",
    line(904, { cost: "-0.5", category: "Credit" }),
  ]);
  const id = await bring(text);
  const done = await runImport(services, WORKER, id);
  expect(done).toMatchObject({ status: "done", linesTaken: 502, linesRefused: 4, firstDay: "2027-02-20", currency: "EUR" });
  expect(done.billed).toBe("4.510501");
  const { refusals } = await openImport(services, DEMO_ACTOR, id);
  expect(refusals.map(({ line: at, reason }) => [at, reason.slice(0, 24)])).toEqual([
    [502, "BilledCost -5 is below z"],
    [503, 'BillingCurrency "USD": e'],
    [504, 'ChargePeriodStart "2027-'],
    [506, "2 cells, and the header "],
  ]);
  const { rows } = await services.pool.query("select rest, tags from usage_line where import_id = $1 and resource_id = 'r-903'", [
    id,
  ]);
  expect(JSON.parse(rows[0].rest)).toEqual({ x_Own: "own 903" });
  expect(rows[0].tags).toHaveLength(407);
  expect(done.bytesDone).toBe(Buffer.byteLength(text));
  await expect(bring(text, "the same under another name.csv")).rejects.toThrow(`import ${id}`);
});

test("a file taken back leaves nothing behind, and can come again", async () => {
  const text = fileOf([line(1), line(2)], "\r\n");
  const id = await bring(text);
  await runImport(services, WORKER, id);
  expect(await countOf(id)).toEqual({ n: 2, sum: "0.020002" });
  await takeBackImport(services, DEMO_ACTOR, id);
  await runErase(services, WORKER, id);
  expect(await countOf(id)).toEqual({ n: 0, sum: "0" });
  expect((await imports(services, DEMO_ACTOR)).find((one) => one.id === id)).toMatchObject({
    status: "taken back",
    linesTaken: 0,
  });
  await expect(takeBackImport(services, DEMO_ACTOR, id)).rejects.toThrow("can be taken back");
  const again = await bring(text);
  expect((await runImport(services, WORKER, again)).linesTaken).toBe(2);
});

test("an import that dies half-way goes on where it was, and no line is counted twice", async () => {
  // More than one piece of four megabytes, so that there is a half-way.
  const lines = Array.from({ length: 90_000 }, (_, i) => line(i, { cost: "0.000001" }));
  const id = await bring(fileOf(lines));
  // It dies after its first stretch: the signal is looked at before each one.
  let looks = 0;
  const dying = {
    get aborted() {
      return ++looks > 1;
    },
  } as AbortSignal;
  const half = await runImport(services, WORKER, id, dying);
  expect(half.status).toBe("running");
  expect(half.linesTaken).toBeGreaterThan(1000);
  expect(half.linesTaken).toBeLessThan(lines.length);
  expect((await countOf(id))?.n).toBe(half.linesTaken);
  // Two workers go on at once: whoever is second finds that the first went on.
  const ends = await Promise.all([runImport(services, WORKER, id), runImport(services, WORKER, id)]);
  expect(ends.some(({ status }) => status === "done")).toBe(true);
  expect(await countOf(id)).toEqual({ n: lines.length, sum: "0.090000" });
});

test("an import that is cancelled half-way leaves no line", async () => {
  const id = await bring(fileOf(Array.from({ length: 90_000 }, (_, i) => line(i, { cost: "0.000003" }))));
  let looks = 0;
  await runImport(services, WORKER, id, {
    get aborted() {
      return ++looks > 1;
    },
  } as AbortSignal);
  await cancelImport(services, DEMO_ACTOR, id);
  expect((await runImport(services, WORKER, id)).status).toBe("taking back");
  await runErase(services, WORKER, id);
  expect((await countOf(id))?.n).toBe(0);
});

test.each([
  ["A,B\n1,2\n", "the column BilledCost is missing"],
  ["\n", "the column BilledCost is missing"],
  [`${HEADER}\nEUR,1,Usage,"2027-02-20T00:00:00Z${"x".repeat(1_100_000)}`, "a quote that is opened there is not closed"],
])("a file that is none is refused as a whole, and nothing of it is kept: %.20s", async (text, said) => {
  const id = await bring(text);
  const end = await runImport(services, WORKER, id);
  expect(end.status).toBe("refused");
  expect(end.error).toContain(said);
  expect((await countOf(id))?.n).toBe(0);
});

const wide = (rows: readonly (readonly string[])[]) =>
  [
    [
      "x_Id",
      "ChargePeriodEnd",
      "ChargePeriodStart",
      "BilledCost",
      "BillingCurrency",
      "ChargeClass",
      "",
      "x_Amount",
      "Tags",
      "ListCost",
    ],
    ...rows,
  ].map((row) => [...row]);
const WIDE = wide([
  ["1", "2027-02-21", "2027-02-20 00:00:00", "1.50", "EUR", "", "two; lines\r\nin it", "-3.5", '{"a": "b"}', ""],
  ["2", "2027-02-21T00:00:00Z", "2027-02-20T23:00:00Z", "-2.5E-1", "EUR", "Correction", "", "", "", "1e0"],
]);

async function exported(importId: number, span: { from: string; to: string }): Promise<string> {
  let text = "";
  for await (const piece of exportFocus(services, DEMO_ACTOR, { importId, ...span })) text += piece;
  return text;
}

test("a file is one file however it is packed, encoded, delimited and ended, and comes back as it came", async () => {
  const text = Papa.unparse(WIDE, { newline: "\n" });
  const forms: Record<string, Buffer> = {
    "with a last line end": Buffer.from(`${text}\n`),
    "with CR LF": Buffer.from(Papa.unparse(WIDE, { newline: "\r\n" })),
    "with CR": Buffer.from(`${Papa.unparse(WIDE, { newline: "\r" })}\r`),
    "with ends mixed": Buffer.from(text.replace("\n", "\r\n")),
    "with a byte order mark": Buffer.from(`\uFEFF${text}`),
    "in UTF-16": Buffer.from(`\uFEFF${text}`, "utf16le"),
    "in UTF-16, the other way round": Buffer.from(`\uFEFF${text}`, "utf16le").swap16(),
    "packed with gzip": gzipSync(text),
  };
  const bringBytes = (bytes: Buffer) =>
    receiveImport(services, DEMO_ACTOR, { fileName: "odd.csv", bytes: Readable.from([bytes.subarray(0, 3), bytes.subarray(3)]) });
  const first = await bringBytes(Buffer.from(text));
  const done = await runImport(services, WORKER, first);
  expect(done).toMatchObject({ status: "done", linesTaken: 2, linesRefused: 0, billed: "1.25" });
  for (const [form, bytes] of Object.entries(forms))
    await expect(bringBytes(bytes), form).rejects.toThrow(`counts already, as import ${first}`);
  expect(await exported(first, { from: "2027-02-20", to: "2027-02-20" })).toBe(`${Papa.unparse(WIDE)}\r\n`);

  const semicolons = await bringBytes(Buffer.from(Papa.unparse(WIDE, { delimiter: ";", newline: "\r" })));
  expect(await runImport(services, WORKER, semicolons)).toMatchObject({ linesTaken: 2, linesRefused: 0, billed: "1.25" });
  expect(await exported(semicolons, { from: "2027-02-20", to: "2027-02-20" })).toBe(`${Papa.unparse(WIDE)}\r\n`);

  const before = (await imports(services, DEMO_ACTOR)).length;
  const refused: [Buffer, RegExp][] = [
    [gzipSync(text).subarray(0, 60), /broken or cut off/],
    [Buffer.from("PK\x03\x04rest"), /unpack it, or save it as CSV/],
    [Buffer.from("PAR1rest"), /is Parquet/],
    [Buffer.concat([Buffer.from(`${HEADER}\n`), Buffer.from([0xc5, 0x6e, 0x67])]), /Line 2 of the file is no UTF-8/],
  ];
  for (const [bytes, why] of refused) await expect(bringBytes(bytes)).rejects.toThrow(why);
  expect(await imports(services, DEMO_ACTOR)).toHaveLength(before);
});

test("a charge over several days is spread over them by the hour, and its parts add up to it", async () => {
  const lasting = (cost: string, from: string, to: string) => `EUR,${cost},Usage,${from},${to},long,acc,,`;
  const id = await bring(
    fileOf([
      lasting("72", "2027-02-27T12:00:00Z", "2027-03-02T12:00:00Z"),
      lasting("0.000001", "2027-02-28T00:00:00Z", "2027-03-03T00:00:00Z"),
      lasting("5", "2027-03-02T00:00:00Z", "2027-03-03T00:00:00Z"),
    ]),
  );
  expect(await runImport(services, WORKER, id)).toMatchObject({ firstDay: "2027-02-27", lastDay: "2027-03-02" });
  const billedOf = async (from: string, to: string) =>
    Object.fromEntries(
      (await billedDays(services.pool, { importId: id, from, to })).map(({ day, billed }) => [day, Number(billed)]),
    );
  const third = 0.000001 / 3;
  const all = await billedOf("2027-02-01", "2027-03-31");
  expect(Object.keys(all).sort()).toEqual(["2027-02-27", "2027-02-28", "2027-03-01", "2027-03-02"]);
  expect(all["2027-02-27"]).toBe(12);
  expect(all["2027-03-01"]).toBeCloseTo(24 + third, 9);
  expect(all["2027-03-02"]).toBeCloseTo(12 + third + 5, 9);
  expect(await billedOf("2027-03-01", "2027-03-01")).toEqual({ "2027-03-01": all["2027-03-01"] });
  const { rows } = await services.pool.query("select sum(billed)::text as n from usage_line where import_id = $1", [id]);
  const parts = await billedDays(services.pool, { importId: id, from: "2027-02-01", to: "2027-03-31" });
  const exact = (text: string) => {
    const [before = "", after = ""] = text.split(".");
    return BigInt(before + after.padEnd(12, "0"));
  };
  expect(parts.reduce((sum, { billed }) => sum + exact(billed), 0n)).toBe(exact(rows[0].n));
});

test("an empty file is refused before anything is noted", async () => {
  const before = (await imports(services, DEMO_ACTOR)).length;
  await expect(bring("")).rejects.toThrow("empty");
  expect(await imports(services, DEMO_ACTOR)).toHaveLength(before);
});

test("the meter is pulled once a day and account, stored as given, and agrees with what was computed but for what is said", async () => {
  expect((await pullUsage(services, WORKER)).days).toBe(4 * 28);
  expect(await pullUsage(services, WORKER)).toEqual({ days: 0 });
  await closeSpendDays(services, WORKER);
  const result = await reconcile(services, DEMO_ACTOR, { from: "2027-02-11", to: "2027-03-10" });
  expect(result.days).toHaveLength(28);
  expect(result.agreeing).toBeGreaterThan(5000);
  expect(result.differences.filter(({ reason }) => reason === "not known")).toEqual([]);
  const computed = result.days.reduce((sum, { computed: text }) => sum + Number(text), 0);
  const off = result.differences.reduce((sum, { difference }) => sum + Math.abs(Number(difference)), 0);
  expect(off / computed).toBeLessThan(0.001);
});

test("what a price set by hand makes differ is expected and taken off first: what is left is news", async () => {
  await services.pool.query(
    `insert into price (provider, region, item, size, os, purchase, class, rate, cores_min, valid_from, source, person)
     select provider, region, item, size, os, purchase, class, rate * 2, cores_min, '2027-03-01', 'hand', 'test'
     from price where item = 'disk' and class = 'plain' and region = 'fjord-1' limit 1`,
  );
  await services.pool.query("update spend_closed set day = '2027-03-08'");
  await closeSpendDays(services, WORKER);
  const { expected, reasons, days } = await reconcile(services, DEMO_ACTOR, { from: "2027-03-09", to: "2027-03-10" });
  expect(expected).toMatchObject([{ reason: "a price set by hand" }]);
  expect(expected[0]?.count).toBeGreaterThan(50);
  const off = days.reduce((sum, { difference }) => sum + Number(difference), 0);
  const left = reasons.reduce((sum, { difference }) => sum + Number(difference), 0);
  expect(off - Number(expected[0]?.difference) - left).toBeCloseTo(0, 3);
  expect(Math.abs(left)).toBeLessThan(Math.abs(off) / 100);
});

test("what is exported as FOCUS is what was reckoned, net and gross, and imports again with the same sum", async () => {
  let text = "";
  for await (const piece of exportFocus(services, DEMO_ACTOR, { from: "2027-03-09", to: "2027-03-10" })) text += piece;
  const rows = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true }).data;
  const sum = (of: (row: Record<string, string>) => string | undefined) =>
    rows.reduce((total, row) => total + Number(of(row)), 0);
  const days = await Promise.all(["2027-03-09", "2027-03-10"].map((day) => spendOfDay(services, DEMO_ACTOR, day)));
  const total = (of: (day: (typeof days)[number]) => string | undefined) => days.reduce((all, day) => all + Number(of(day)), 0);
  const net = total((day) => day.total);
  expect(sum(({ BilledCost }) => BilledCost)).toBeCloseTo(net, 4);
  const gross = sum((row) => (row.ChargeCategory === "Usage" ? row.ContractedCost : "0"));
  expect(gross).toBeCloseTo(net + total((day) => day.byItem.covered) - total((day) => day.byItem.fees), 4);
  const id = await bring(text, "export.csv");
  const done = await runImport(services, WORKER, id);
  expect(done.linesRefused).toBe(0);
  expect(done.linesTaken).toBe(rows.length);
  expect(Number(done.billed)).toBeCloseTo(net, 4);
  const wrong = exportFocus(services, DEMO_ACTOR, { from: "2027-03-10", to: "2027-03-09" });
  await expect(wrong.next()).rejects.toThrow("not before the first");
});
