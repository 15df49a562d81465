import { afterAll, beforeAll, expect, test } from "vitest";
import { asLevel } from "@/core/hours";
import { DEMO_ACTOR, type Services, WORKER } from "@/services/admin";
import { burnPage, closeSpendDays, projectionBasis, strayPage, timeStrip } from "@/services/cost";
import { openMachine } from "@/services/inventory";
import { createFleet, fleetSummaries, keepDraft, loadPlan, openWorkbench, putInForce } from "@/services/plans";
import { previewReport } from "@/services/report";
import { askForRound, comingEdges, journalPage, openRound, placeHold, runRound } from "@/services/rounds";
import { saveChanges } from "@/store";
import { startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
let services: Services;
const at = (day: number, hour: number, minute = 0) => Date.UTC(2027, 2, day, hour, minute) / 1000;
const START = at(11, 5);
beforeAll(async () => {
  world = await startWorld();
  services = world.services;
  await runRound(services, DEMO_ACTOR, "act");
});
afterAll(() => world.close());

const EASTER = `
umbrik: 1
calendars:
  - { name: easter, rest: [sat, sun], holidays: ["2027-03-25", "2027-03-26"] }
schedules:
  - { name: south, zone: UTC, calendar: easter, rows: [{ day: workdays, spans: ["08:00-16:00"] }] }
fleets:
  - { name: south, select: "account = skerry-south and kind = machine", hours: south }
`;

const QUERY = {
  filters: [] as string[],
  group: "none",
  sort: "name",
  isDescending: false,
  only: "all",
  opened: [],
  offset: 0,
  limit: 500,
} as const;
const runningAt = async (t: number | null, filter: string) => {
  const { lines } = await burnPage(services, DEMO_ACTOR, { ...QUERY, filters: [filter], at: t });
  return lines.flatMap((line) => (line.kind === "machine" ? [line] : []));
};

test("what the coming hours do is seen before they come, clock change and rest day included", async () => {
  const levels = async (t: number) => (await runningAt(t, "name = archive-index-01")).map(({ level }) => level);
  expect(await levels(at(12, 17, 59)), "Friday before seven in Oslo").toEqual([6]);
  expect(await levels(at(12, 18)), "Friday at seven").toEqual([12]);
  expect(await levels(at(12, 22, 30)), "half past eleven").toEqual([6]);
  expect(await levels(at(13, 12)), "a Saturday").toEqual([2]);
  expect(await levels(at(30, 17)), "a Tuesday after the clocks went forward").toEqual([12]);
});

test("a hold that is placed counts ahead, to its end and not beyond", async () => {
  const [machine] = await runningAt(null, "name = archive-index-02");
  const hold = { on: { resourceId: machine?.id ?? "" }, level: 9, until: at(13, 12), reason: "index" };
  await placeHold(services, DEMO_ACTOR, hold);
  expect((await runningAt(at(13, 11), "name = archive-index-02"))[0]).toMatchObject({ level: 9, hold: { reason: "index" } });
  expect((await runningAt(at(13, 13), "name = archive-index-02"))[0]).toMatchObject({ level: 2, hold: null });
  const strip = await timeStrip(services, DEMO_ACTOR, { at: at(13, 12) });
  expect(strip.marks.filter(({ kind }) => kind === "hold")).toMatchObject([{ to: at(13, 12) }]);
});

test("the past is told by the plans of then: before a plan was in force nothing was due", async () => {
  expect((await runningAt(START - 3600, "name = archive-index-01"))[0]).toMatchObject({ fleet: "", due: "leave" });
  expect((await runningAt(null, "name = archive-index-01"))[0]).toMatchObject({ fleet: "archive-index", due: "on" });
  const then = await fleetSummaries(services, DEMO_ACTOR, START - 3600);
  expect(then.every(({ isInForce }) => !isInForce)).toBe(true);
  expect((await fleetSummaries(services, DEMO_ACTOR)).filter(({ isInForce }) => isInForce)).toHaveLength(2);
});

test("a fleet that is put in force is seen at work ahead: its desks go off at night and come back, hibernated between", async () => {
  const id = await createFleet(services, DEMO_ACTOR, { name: "oslo", select: "team = draughting and region = fjord-1" });
  const open = await openWorkbench(services, DEMO_ACTOR, id);
  const draft = {
    ...open.fleet.draft,
    offAction: "hibernate" as const,
    hours: "oslo-hours",
    schedule: { name: "oslo-hours", zone: "Europe/Oslo", outside: "off", rows: [{ day: "workdays", spans: ["07:30-18:00"] }] },
  };
  const version = await keepDraft(services, DEMO_ACTOR, { id, draft, version: open.fleet.version });
  await putInForce(services, DEMO_ACTOR, { id, version, why: "nights", confirmedStops: 100 });
  await runRound(services, DEMO_ACTOR, "act");
  const night = await runningAt(at(11, 22), "team = draughting and region = fjord-1");
  const noon = await runningAt(at(12, 11), "team = draughting and region = fjord-1");
  expect(night).toEqual([]);
  expect(noon).toHaveLength(28);
  expect(noon.every(({ since }) => since <= at(12, 11))).toBe(true);
  expect(noon.filter(({ since }) => since === at(12, 6, 30)).length, "those that rise at half past seven").toBeGreaterThan(5);
  const summary = (await fleetSummaries(services, DEMO_ACTOR, at(12, 11))).find(({ name }) => name === "oslo");
  expect(summary).toMatchObject({ matches: 28, running: 28 });
});

test("a round of another instant is rehearsed: what it would find, by what is in force then, and nothing is sent", async () => {
  const rehearsed = async (t: number) => {
    const { id } = await askForRound(services, DEMO_ACTOR, { mode: "rehearse", fleet: "oslo", at: t });
    return openRound(services, DEMO_ACTOR, { id: id ?? 0, offset: 0 });
  };
  const evening = await rehearsed(at(12, 17));
  expect(evening.round).toMatchObject({ mode: "rehearse", at: at(12, 17), sent: 28, braked: 0, resources: 28 });
  expect(evening.groups.map(({ verdict, verb, count }) => [verdict, verb, count])).toEqual([["act", "hibernate", 28]]);
  expect((await rehearsed(at(12, 17, 30))).round, "half an hour on they are off").toMatchObject({ sent: 0, resources: 28 });
  expect((await rehearsed(at(15, 6, 30))).groups[0], "Monday morning").toMatchObject({
    verdict: "act",
    verb: "start",
    count: 28,
  });
  expect((await rehearsed(START - 3600)).round, "before anything was in force").toMatchObject({ sent: 0, resources: 0 });
  await expect(askForRound(services, DEMO_ACTOR, { mode: "act", at: at(12, 17) })).rejects.toThrow("acts as of now");
  const sent = await services.pool.query("select from action where recorded_at > to_timestamp($1::double precision)", [
    at(11, 12),
  ]);
  expect(sent.rowCount).toBe(0);
});

test("an edge that a holiday takes away is listed as one that does not come", async () => {
  await loadPlan(services, DEMO_ACTOR, { text: EASTER, inForce: ["south"] });
  const edges = await comingEdges(services, DEMO_ACTOR, { at: at(24, 0) });
  const own = edges.filter(({ fleet }) => fleet === "south");
  expect(own.filter(({ at: t }) => t < at(26, 0)).map(({ at: t, to, fallsAway }) => [t, to, fallsAway])).toEqual([
    [at(24, 8), 1, false],
    [at(24, 16), 0, false],
    [at(25, 8), 1, true],
    [at(25, 16), 0, true],
  ]);
});

test("the workbench, the edges, the journal and strays answer as of then too", async () => {
  const basis = await projectionBasis(services, DEMO_ACTOR, {
    selector: "team = draughting and region = fjord-1",
    fleetId: null,
    at: at(12, 11),
  });
  expect(basis.now).toBe(at(12, 11));
  expect(basis.lines.every(({ resource }) => resource.level === 1)).toBe(true);
  expect(basis.days.at(-1), "the last whole day before then").toBe(Math.floor(at(12, 11) / 86_400) - 1);
  const [edge] = await comingEdges(services, DEMO_ACTOR, { limit: 1, at: at(20, 0) });
  expect(edge?.at).toBeGreaterThan(at(20, 0));
  const before = await journalPage(services, DEMO_ACTOR, { before: null, at: START - 1 });
  expect(before.entries).toEqual([]);
  const month = await strayPage(services, DEMO_ACTOR, START + 40 * 86_400);
  expect(month.strays.filter(({ kind }) => kind === "running long").length).toBeGreaterThan(20);
  expect(
    month.strays.every(({ canStop }) => !canStop),
    "nothing can be stopped at another time than now",
  ).toBe(true);
});

test("what the feed tells late of a day that was looked at changes that day and the month", async () => {
  const all = await runningAt(null, "kind = machine");
  const machine = all.find(({ since, state, isCovered }) => since < at(10, 0) && state === "running" && !isCovered);
  const { id = "", name, account = "", perHour } = machine ?? {};
  const own = `name = ${name}`;
  const night = () => runningAt(at(11, 2), own);
  const month = async () => Number((await runningAt(null, own))[0]?.month?.replaceAll("\u00a0", ""));
  expect(await night()).toHaveLength(1);
  const before = await month();
  const { rows } = await services.pool.query("select event_cursor as n from account where name = $1", [account]);
  await saveChanges(services.pool, account, {
    changes: [
      { n: rows[0].n + 1, resourceId: id, at: at(11, 1), type: "stopped", state: "stopped", level: asLevel(0), note: "late" },
      { n: rows[0].n + 2, resourceId: id, at: at(11, 4), type: "running", state: "running", level: asLevel(1), note: "late" },
    ],
    billedWhenHalted: false,
  });
  expect(await night()).toEqual([]);
  const less = before - (await month());
  expect(less, "most of three hours: its disk is billed on").toBeGreaterThan(3 * Number(perHour) * 0.7);
  expect(less).toBeLessThan(3 * Number(perHour));
});

test("a machine's page prices it as of then, and strays know what was not there yet", async () => {
  const [machine] = await runningAt(null, "name = archive-index-01");
  const open = await openMachine(services, DEMO_ACTOR, { id: machine?.id ?? "", at: at(12, 19) });
  expect(open.due).toMatchObject({ level: 12 });
  const early = await strayPage(services, DEMO_ACTOR, START - 150 * 86_400);
  const now = await strayPage(services, DEMO_ACTOR);
  const disks = (page: typeof now) => page.strays.filter(({ kind }) => kind === "disk without a machine").length;
  expect(disks(early)).toBeLessThan(disks(now));
});

test("the daily report can be read as of any instant: yesterday is the day before it, once that is reckoned", async () => {
  const report = { name: "Evening", zone: "Europe/Oslo", scope: "" };
  const early = await previewReport(services, DEMO_ACTOR, { ...report, at: null });
  expect(early.text).toContain("No day is reckoned yet.");
  expect(early.text, "what is not known is no nought").not.toContain("0.00\n");
  await closeSpendDays(services, WORKER);
  const past = await previewReport(services, DEMO_ACTOR, { ...report, at: START - 3 * 86_400 });
  expect(past.text).toContain("2027-03-08 06:00 Oslo");
  expect(past.text).toContain("Yesterday, 2027-03-07 UTC");
  expect(past.text).toMatch(/cost [\d ]+\.\d\d EUR; the day before [\d ]+\.\d\d/);
  const later = await previewReport(services, DEMO_ACTOR, { ...report, at: at(12, 0, 5) });
  expect(later.text).toMatch(/2027-03-10 UTC, the last day that is reckoned: all of it cost [\d ]+\.\d\d EUR/);
  expect(later.html).toContain(">2027-03-10</th>");
  const ahead = await previewReport(services, DEMO_ACTOR, { ...report, scope: "name = archive-index-01", at: at(13, 12) });
  expect(ahead.subject).toContain("1 running");
});

test("a machine that is gone since still ran then, and cost what it cost", async () => {
  const night = START - 2 * 86_400;
  const before = await burnPage(services, DEMO_ACTOR, { ...QUERY, at: night });
  const [one] = before.lines.flatMap((line) =>
    line.kind === "machine" && line.what === "machine" && line.isCovered ? [line] : [],
  );
  const { pool } = services;
  await pool.query("update resource set state = 'gone', level = 0, target = 0, run_since = null where id = $1", [one?.id]);
  const after = await burnPage(services, DEMO_ACTOR, { ...QUERY, at: night });
  expect(after.all).toEqual(before.all);
  expect(
    (await burnPage(services, DEMO_ACTOR, { ...QUERY, at: null })).lines.some(
      (line) => line.kind === "machine" && line.id === one?.id,
    ),
  ).toBe(false);
  await runRound(services, DEMO_ACTOR, "act");
});

test("ahead of now a desk that goes off at six is off since six: no image of it is old the same night", async () => {
  const night = await strayPage(services, DEMO_ACTOR, at(11, 22));
  expect(night.strays.filter(({ kind }) => kind === "old image")).toEqual([]);
  const later = await strayPage(services, DEMO_ACTOR, at(11, 22) + 86_400);
  expect(later.strays.filter(({ kind }) => kind === "old image")).toEqual([]);
});
