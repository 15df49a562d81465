import { afterAll, beforeAll, expect, test } from "vitest";
import { type BurnLine, type BurnQuery, burnPage, DEMO_PERSON, runRound, type Services, timeStrip } from "@/services";
import { post, startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
let services: Services;
beforeAll(async () => {
  world = await startWorld();
  services = world.services;
  await runRound(services, DEMO_PERSON, "act");
});
afterAll(() => world.close());

const QUERY: BurnQuery = {
  filter: "",
  group: "none",
  sort: "perHour",
  isDescending: true,
  only: "all",
  opened: [],
  offset: 0,
  limit: 500,
};
const burn = (more: Partial<BurnQuery> = {}) => burnPage(services, DEMO_PERSON, { ...QUERY, ...more });
const number = (text: string) => Number(text.replaceAll("\u00a0", ""));
const machines = (lines: readonly BurnLine[]) => lines.flatMap((line) => (line.kind === "machine" ? [line] : []));

test("one desk costs what its rates say: compute, licence per core, disk; so far since it began", async () => {
  const { lines, now, monthEnd } = await burn({ filter: "name = desk-osl-07" });
  const [desk] = machines(lines);
  const perHour = 1.142 + 8 * 0.046 + (256 * 0.117) / 730;
  expect(number(desk?.perHour ?? "")).toBeCloseTo(perHour, 2);
  const hours = (now - (desk?.since ?? 0)) / 3600;
  expect(hours / 24).toBeGreaterThan(41);
  expect(number(desk?.soFar ?? "")).toBeCloseTo(perHour * hours, 1);
  expect(number(desk?.byMonthEnd ?? "")).toBeCloseTo((perHour * (monthEnd - now)) / 3600, 1);
});

test("the totals are those of the rows, whichever way they are grouped", async () => {
  const plain = await burn();
  expect(plain.all.count).toBe(machines(plain.lines).length);
  const sum = machines(plain.lines).reduce((total, { perHour }) => total + number(perHour), 0);
  expect(Math.abs(number(plain.all.perHour) - sum)).toBeLessThan(0.005 * plain.all.count);
  for (const group of ["fleet", "owner", "region", "account"] as const) {
    const { lines, all } = await burn({ group });
    const groups = lines.flatMap((line) => (line.kind === "group" ? [line] : []));
    expect(groups.reduce((total, { count }) => total + count, 0)).toBe(all.count);
    expect(groups.reduce((total, { perHour }) => total + number(perHour), 0)).toBeCloseTo(number(all.perHour), 1);
  }
});

test("a group shows its heading alone until it is opened", async () => {
  const folded = await burn({ group: "region" });
  const open = await burn({ group: "region", opened: ["fjord-1"] });
  const heading = open.lines.find((line) => line.kind === "group" && line.key === "fjord-1");
  expect(heading).toMatchObject({ isOpen: true });
  expect(folded.lines.every(({ kind }) => kind === "group")).toBe(true);
  expect(open.lineCount - folded.lineCount).toBe(heading?.kind === "group" ? heading.count : -1);
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
  expect(machines((await burn({ filter: "sonar" })).lines).every(({ name }) => name.includes("sonar"))).toBe(true);
  expect((await burn({ filter: "region = terai-1" })).shown.count).toBeGreaterThan(0);
  const broken = await burn({ filter: "region == terai-1" });
  expect(broken.filterError).toMatchObject({ at: 8 });
  expect(broken.shown.count).toBe(broken.all.count);
  expect((await burn({ filter: "stage = tset2" })).warnings[0]).toMatchObject({ nearest: "tset" });
});

test("machines shut down from inside are told apart, with what they go on costing", async () => {
  const { shown, lines } = await burn({ only: "halted" });
  expect(shown.count).toBe(2);
  expect(machines(lines).every(({ state, perHour }) => state === "halted" && number(perHour) > 0.03)).toBe(true);
});

test("the strip holds 48 hours, and an evening after hours is cheaper than one before there were any", async () => {
  const strip = await timeStrip(services, DEMO_PERSON);
  expect(strip.micros).toHaveLength(48);
  expect(strip.micros.every((micros) => micros > 10_000_000)).toBe(true);
  expect(strip.from).toBe(Math.floor(strip.now / 3600) * 3600 - 24 * 3600);
});

test("an account that cannot be read keeps its rows and says so", async () => {
  const before = (await burn()).all.count;
  await post(`${world.standin.url}/outages`, { account: "skerry-south", seconds: 60, kind: "silent" });
  await runRound(services, DEMO_PERSON, "act");
  const page = await burn();
  expect(page.all.count).toBe(before);
  expect(page.accounts.find(({ name }) => name === "skerry-south")?.error).toBeTruthy();
});
