import Papa from "papaparse";
import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, type Services } from "@/services/admin";
import { type BurnLine, type BurnQuery, burnCsv, burnPage, timeStrip } from "@/services/cost";
import { runRound } from "@/services/rounds";
import { EVERYTHING } from "../support/burn-query";
import { post, startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
let services: Services;
beforeAll(async () => {
  world = await startWorld();
  services = world.services;
  await runRound(services, DEMO_ACTOR, "act");
});
afterAll(() => world.close());

const burn = (more: Partial<BurnQuery> = {}) => burnPage(services, DEMO_ACTOR, { ...EVERYTHING, ...more });
const number = (text: string | null) => Number((text ?? "NaN").replaceAll("\u00a0", ""));
const machines = (lines: readonly BurnLine[]) => lines.flatMap((line) => (line.kind === "machine" ? [line] : []));

test("one desk costs what its rates say: compute, licence per core, disk; so far since it began", async () => {
  const { lines, now, monthEnd } = await burn({ filters: ["name = desk-osl-07"] });
  const [desk] = machines(lines);
  const perHour = 1.142 + 8 * 0.046 + (256 * 0.117) / 730;
  expect(number(desk?.perHour ?? "")).toBeCloseTo(perHour, 2);
  const hours = (now - (desk?.since ?? 0)) / 3600;
  expect(hours / 24).toBeGreaterThan(41);
  expect(number(desk?.soFar ?? "")).toBeCloseTo(perHour * hours, 1);
  const sinceFirst = (now - Date.UTC(2027, 2, 1) / 1000) / 3600;
  expect(number(desk?.month ?? "")).toBeCloseTo(perHour * sinceFirst, 1);
  expect(number(desk?.byMonthEnd ?? "")).toBeCloseTo(perHour * (sinceFirst + (monthEnd - now) / 3600), 1);
});

const COLUMNS = ["perHour", "soFar", "month", "byMonthEnd", "ifAsNow"] as const;
const cents = (text: string | null) => (text === null ? 0 : Math.round(number(text) * 100));
const sumOf = (lines: readonly BurnLine[], column: (typeof COLUMNS)[number]) =>
  lines.reduce((total, line) => total + cents(line[column]), 0);

test("every column of shown rows adds up to its shown total, to the cent, whichever way they are grouped", async () => {
  const plain = await burn();
  expect(plain.all.count).toBe(machines(plain.lines).length);
  for (const column of COLUMNS) expect(sumOf(plain.lines, column), column).toBe(cents(plain.all[column]));
  for (const group of ["fleet", "owner", "region", "account", "provider", "size", "tag:payer"] as const) {
    const { lines, all } = await burn({ group });
    const groups = lines.flatMap((line) => (line.kind === "group" ? [line] : []));
    expect(groups.reduce((total, { count }) => total + count, 0)).toBe(all.count);
    for (const column of COLUMNS) expect(sumOf(groups, column), `${group} ${column}`).toBe(cents(all[column]));
    const [first] = groups.filter(({ count }) => count > 1);
    const open = await burn({ group, opened: [first?.key ?? ""] });
    const inner = open.lines.filter(({ kind }) => kind !== "group");
    expect(inner.filter(({ kind }) => kind === "machine")).toHaveLength(first?.count ?? -1);
    for (const column of COLUMNS) expect(sumOf(inner, column), `${group} inside`).toBe(cents(first?.[column] ?? null));
  }
});

test("a commitment covers what it is for, and its fee is a line of its own", async () => {
  const { lines, all, shown } = await burn();
  const [fee] = lines.flatMap((line) => (line.kind === "fee" ? [line] : []));
  expect(fee).toMatchObject({ name: "6 × ketch-8, committed", units: 6 });
  // Exact where it is saved; shown in whole cents that add up with the other rows', so its last one may go either way.
  const { text } = await burnCsv(services, DEMO_ACTOR, { ...EVERYTHING });
  const saved = Papa.parse<Record<string, string>>(text.trim(), { header: true }).data;
  expect(saved.find(({ name }) => name === "6 x ketch-8")?.per_hour).toBe("1.314000");
  expect(Math.abs(number(fee?.perHour ?? "") - 1.314)).toBeLessThan(0.01);
  const covered = machines(lines).filter(({ isCovered }) => isCovered);
  expect(covered.length).toBeGreaterThan(0);
  expect(covered.every(({ size, region }) => size === "ketch-8" && region === "fjord-1")).toBe(true);
  expect(all.perHour).toBe(shown.perHour);
  const box = covered.find(({ what }) => what === "machine");
  const [one] = machines((await burn({ filters: [`name = ${box?.name}`] })).lines);
  expect(number(one?.perHour ?? "")).toBeLessThan(0.337);
});

test("as of a past night Burn shows what ran then, at what it cost, by the plans of then", async () => {
  const { now } = await burn();
  const night = now - 3 * 86_400 - 4 * 3600;
  const past = await burn({ at: night });
  expect(past).toMatchObject({ tense: "past", at: night });
  const { rows } = await services.pool.query<{ n: number }>(
    `select count(*)::integer as n
     from (select distinct on (resource_id) state from state_change where at <= to_timestamp($1) order by resource_id, at desc, n desc) as last
     where state in ('running', 'starting', 'stopping', 'halted')`,
    [night],
  );
  expect(past.all.count).toBe(rows[0]?.n);
  expect(machines(past.lines).every(({ since }) => since <= night)).toBe(true);
  expect(
    machines(past.lines).every(({ fleet }) => fleet === ""),
    "no plan was in force before the demo began",
  ).toBe(true);
  expect(cents(past.all.month)).toBeLessThan(cents((await burn()).all.month));
});

test("as of a coming night Burn shows what is due to run, and no sum that nobody can know", async () => {
  const { now } = await burn();
  const tuesday = Date.UTC(2027, 2, 16, 20) / 1000;
  const rebuild = await burn({ at: tuesday, filters: ["archive-index-01"] });
  expect(rebuild).toMatchObject({ tense: "ahead" });
  expect(machines(rebuild.lines)[0]).toMatchObject({ level: 12, due: "on", fleet: "archive-index", soFar: null, month: null });
  expect(tuesday).toBeGreaterThan(now);
  const sunday = await burn({ at: Date.UTC(2027, 2, 14, 12) / 1000, filters: ["archive-index-01"] });
  expect(machines(sunday.lines)[0]).toMatchObject({ level: 2 });
});

test("what is shown can be saved as CSV, whole and exact, and no cell is run by a spreadsheet", async () => {
  await services.pool.query("update resource set name = '=1+1' where name = 'desk-osl-01'");
  const { text, file } = await burnCsv(services, DEMO_ACTOR, { ...EVERYTHING, filters: ["team = draughting"], limit: 1 });
  await services.pool.query("update resource set name = 'desk-osl-01' where name = '=1+1'");
  const rows = Papa.parse<Record<string, string>>(text.trim(), { header: true }).data;
  expect(file).toMatch(/^umbrik-burn-2027-03-11T0500\.csv$/);
  const { shown } = await burn({ filters: ["team = draughting"] });
  expect(rows.filter(({ state }) => state === "running" || state === "halted")).toHaveLength(shown.count);
  // What is off and has cost something this month stands there too, so that the sums agree.
  const total = (column: string) => rows.reduce((sum, row) => sum + Number(row[column]), 0);
  expect(total("this_month")).toBeCloseTo(number(shown.month), 2);
  expect(total("by_month_end")).toBeCloseTo(number(shown.byMonthEnd), 2);
  expect(rows.find(({ id }) => id?.endsWith("desk-osl-01"))?.name).toBe("'=1+1");
  expect(rows.every(({ per_hour }) => /^\d+\.\d{6}$/.test(per_hour ?? ""))).toBe(true);
  expect(rows.reduce((sum, { per_hour }) => sum + Number(per_hour), 0)).toBeCloseTo(number(shown.perHour), 1);
});

test("a group shows its heading alone until it is opened", async () => {
  const folded = await burn({ group: "region" });
  const open = await burn({ group: "region", opened: ["fjord-1"] });
  const heading = open.lines.find((line) => line.kind === "group" && line.key === "fjord-1");
  expect(heading).toMatchObject({ isOpen: true });
  expect(folded.lines.every(({ kind }) => kind === "group")).toBe(true);
  expect(open.lineCount - folded.lineCount).toBe(heading?.kind === "group" ? heading.count + 1 : -1);
  expect(open.lines.filter(({ kind }) => kind === "rest")).toHaveLength(1);
});

test("pages follow on one another, and sorting holds over all of them", async () => {
  const whole = machines((await burn({ sort: "soFar" })).lines).map(({ id }) => id);
  const pages = await Promise.all([0, 50, 100, 150].map((offset) => burn({ sort: "soFar", offset, limit: 50 })));
  expect(pages.flatMap(({ lines }) => machines(lines).map(({ id }) => id))).toEqual(whole);
  const soFar = machines((await burn({ sort: "soFar" })).lines).map((line) => number(line.soFar));
  expect(soFar).toEqual([...soFar].sort((a, b) => b - a));
  const since = machines((await burn({ sort: "since", isDescending: false })).lines).map((line) => line.since);
  expect(since).toEqual([...since].sort((a, b) => a - b));
});

test("a filter is a word or a selector; one that does not parse says where and hides nothing", async () => {
  expect(machines((await burn({ filters: ["sonar"] })).lines).every(({ name }) => name.includes("sonar"))).toBe(true);
  expect((await burn({ filters: ["region = terai-1"] })).shown.count).toBeGreaterThan(0);
  const broken = await burn({ filters: ["region == terai-1"] });
  expect(broken.filterError).toMatchObject({ at: 8 });
  expect(broken.shown.count).toBe(broken.all.count);
  expect((await burn({ filters: ["stage = tset2"] })).warnings[0]).toMatchObject({ nearest: "tset" });
});

test("machines shut down from inside are told apart, with what they go on costing", async () => {
  const { shown, lines } = await burn({ only: "halted" });
  expect(shown.count).toBe(2);
  expect(machines(lines).every(({ state, perHour }) => state === "halted" && number(perHour) > 0.03)).toBe(true);
});

test("the strip holds 48 hours, and an evening after hours is cheaper than one before there were any", async () => {
  const strip = await timeStrip(services, DEMO_ACTOR);
  expect(strip.micros).toHaveLength(48);
  expect(strip.micros.every((micros) => micros > 10_000_000)).toBe(true);
  expect(strip.from).toBe(Math.floor(strip.now / 3600) * 3600 - 24 * 3600);
});

test("the strip as of a past day shows that day, as of a coming one what is due, with edges on both sides", async () => {
  const { now } = await burn();
  const past = await timeStrip(services, DEMO_ACTOR, { at: now - 10 * 86_400 });
  expect(past.from).toBe(Math.floor((now - 10 * 86_400) / 3600) * 3600 - 24 * 3600);
  expect(past.micros.every((micros) => micros > 10_000_000)).toBe(true);
  const easter = Date.UTC(2027, 2, 26, 12) / 1000;
  const ahead = await timeStrip(services, DEMO_ACTOR, { at: easter });
  expect(ahead.marks.some(({ kind, what }) => kind === "holiday" && what.includes("oslo"))).toBe(true);
  expect(ahead.next ?? 0).toBeGreaterThan(easter);
  expect(ahead.previous ?? 0).toBeLessThan(easter);
});

test("an account that cannot be read keeps its rows and says so", async () => {
  const before = (await burn()).all.count;
  await post(`${world.standin.url}/outages`, { account: "skerry-south", seconds: 60, kind: "silent" });
  await runRound(services, DEMO_ACTOR, "act");
  const page = await burn();
  expect(page.all.count).toBe(before);
  expect(page.accounts.find(({ name }) => name === "skerry-south")?.error).toBeTruthy();
});
