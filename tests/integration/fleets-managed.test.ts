import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, type Services, WORKER } from "@/services/admin";
import { burnPage, closeSpendDays, measureSavings } from "@/services/cost";
import {
  bringBackFleet,
  changeFleets,
  copyFleet,
  createFleet,
  exportPlan,
  type FleetsChange,
  fleetSummaries,
  importPlan,
  loadPlan,
  openWorkbench,
  previewFleets,
  previewPlan,
  renameFleet,
} from "@/services/plans";
import { holdList, placeHold, runRound } from "@/services/rounds";
import { within } from "../support/patience";
import { type Here, startHere } from "../support/weeks/standin-here";

/** Whole fleets: ranked anew, renamed, copied, taken out of force, retired and brought back; the past stays as it was. */
const START = Date.UTC(2027, 2, 16, 9) / 1000;
const DESKS = "team = draughting and region = fjord-1";
const PLAN = `
umbrik: 1
schedules:
  - { name: office, zone: UTC, rows: [{ day: workdays, spans: ["07:00-18:00"] }] }
  - { name: nights, zone: UTC, rows: [{ day: daily, spans: ["20:00-23:00"] }] }
fleets:
  - { name: oslo, select: "${DESKS}", hours: office }
  - { name: all-desks, select: "team = draughting", hours: nights, starts: hand }
  - { name: unused, select: "team = nobody", hours: office }
`;
let here: Here;
let services: Services;
beforeAll(async () => {
  here = await startHere(START);
  services = here.services;
  await runRound(services, WORKER, "act");
  await loadPlan(services, DEMO_ACTOR, { text: PLAN, inForce: ["oslo", "all-desks"] });
  here.keeper.stepTo(START + 60);
  await runRound(services, WORKER, "act");
}, within(60));
afterAll(() => here?.close());

const list = async (at: number | null = null) => fleetSummaries(services, DEMO_ACTOR, at);
const named = async (name: string) => {
  const found = (await list()).find((fleet) => fleet.name === name);
  if (!found) throw new Error(`no fleet ${name}`);
  return found;
};
/** Which fleets the desks of Oslo belong to, at an instant. */
const ownersAt = async (at: number | null) => {
  const { lines } = await burnPage(services, DEMO_ACTOR, {
    filters: [DESKS],
    group: "none",
    sort: "name",
    isDescending: false,
    only: "all",
    opened: [],
    offset: 0,
    limit: 100,
    at,
  });
  return [...new Set(lines.flatMap((line) => (line.kind === "machine" ? [line.fleet] : [])))];
};
const change = async (asked: FleetsChange) => {
  const { stops } = await previewFleets(services, DEMO_ACTOR, asked);
  await changeFleets(services, DEMO_ACTOR, { change: asked, why: "a reason", confirmedStops: stops.length });
  here.keeper.stepTo(here.keeper.now() + 60);
  await runRound(services, WORKER, "act");
};

test("another order says first who changes hands and what stops; then it counts, and the past stays as it was", async () => {
  const before = here.keeper.now() - 30;
  const ids = (await list()).map(({ id }) => id);
  const [oslo = 0, all = 0, ...rest] = ids;
  const order = { kind: "order", ids: [all, oslo, ...rest] } as const;
  const { hands, stops } = await previewFleets(services, DEMO_ACTOR, order);
  expect(hands).toHaveLength(28);
  expect(hands.every(({ from, to }) => from === "oslo" && to === "all-desks")).toBe(true);
  expect(stops.length).toBeGreaterThan(5);
  expect((await list()).map(({ id }) => id)).toEqual(ids);
  const asked = { change: order, why: "nights first", confirmedStops: stops.length - 1 };
  await expect(changeFleets(services, DEMO_ACTOR, asked)).rejects.toThrow(`would now stop ${stops.length} machines`);
  const short = { change: { kind: "order", ids: [all, oslo] } as const, why: "x", confirmedStops: 99 };
  await expect(changeFleets(services, DEMO_ACTOR, short)).rejects.toThrow("other fleets by now");
  await changeFleets(services, DEMO_ACTOR, { ...asked, confirmedStops: stops.length });
  here.keeper.stepTo(here.keeper.now() + 60);
  await runRound(services, WORKER, "act");
  expect((await list()).map(({ name }) => name)).toEqual(["all-desks", "oslo", "unused"]);
  expect(await ownersAt(null)).toEqual(["all-desks"]);
  expect(await ownersAt(before), "then they were Oslo's").toEqual(["oslo"]);
  expect((await list(before)).map(({ name }) => name)).toEqual(["oslo", "all-desks", "unused"]);
  const { rows } = await services.pool.query(
    "select count(*)::integer as n from action where verb = 'stop' and not is_unforeseen",
  );
  expect(rows[0].n, "a person said yes to them: no brake").toBeGreaterThanOrEqual(stops.length);
  await change({ kind: "order", ids });
  expect(await ownersAt(null)).toEqual(["oslo"]);
});

test("a renamed fleet keeps its holds and its past; names that differ in case alone are one", async () => {
  const before = here.keeper.now();
  await placeHold(services, DEMO_ACTOR, { on: { fleet: "oslo" }, level: 1, until: before + 7200, reason: "a feast" });
  const { id, version } = await named("oslo");
  const rename = (name: string, seen = version) => renameFleet(services, DEMO_ACTOR, { id, name, version: seen });
  for (const name of ["ALL-desks", "all-desks", "", "x".repeat(81)])
    await expect(rename(name)).rejects.toMatchObject({ fields: [{ path: "name" }] });
  await expect(createFleet(services, DEMO_ACTOR, { name: "OSLO", select: DESKS })).rejects.toMatchObject({ code: "name_taken" });
  await expect(rename("drawing-office", version + 1)).rejects.toMatchObject({ code: "changed_since" });
  await rename("drawing-office");
  here.keeper.stepTo(here.keeper.now() + 60);
  await runRound(services, WORKER, "act");
  expect((await holdList(services, DEMO_ACTOR)).current.map(({ fleet }) => fleet)).toContain("drawing-office");
  expect(await ownersAt(null)).toEqual(["drawing-office"]);
  expect(await ownersAt(before - 30), "it goes by the name it has now").toEqual(["drawing-office"]);
  await rename("Drawing-office", (await named("drawing-office")).version);
  expect((await named("Drawing-office")).id).toBe(id);
});

test("a copy is a draft of its own below all others", async () => {
  const { id } = await named("all-desks");
  await copyFleet(services, DEMO_ACTOR, id);
  const second = await copyFleet(services, DEMO_ACTOR, id);
  const last = (await list()).slice(-2);
  expect(last.map(({ name, isInForce, select }) => [name, isInForce, select])).toEqual([
    ["all-desks-copy", false, "team = draughting"],
    ["all-desks-copy-2", false, "team = draughting"],
  ]);
  expect((await openWorkbench(services, DEMO_ACTOR, second)).fleet.draft).toMatchObject({ hours: "nights", starts: "hand" });
});

test("out of force, its machines go to the next that matches; retired, it leaves the list and the plan file, and can come back", async () => {
  const { id } = await named("Drawing-office");
  const before = here.keeper.now() - 30;
  const { hands } = await previewFleets(services, DEMO_ACTOR, { kind: "out of force", id });
  expect(hands).toHaveLength(28);
  await change({ kind: "out of force", id });
  expect(await ownersAt(before)).toEqual(["Drawing-office"]);
  expect((await named("Drawing-office")).isInForce).toBe(false);
  const open = await openWorkbench(services, DEMO_ACTOR, id);
  expect(open.versions[0]).toMatchObject({ body: null, why: "a reason", person: DEMO_ACTOR.name });
  expect(open.fleet.draft.hours).toBe("office");
  await change({ kind: "retire", id });
  const fleets = await list();
  expect(fleets.at(-1)).toMatchObject({ name: "Drawing-office", retiredAt: expect.any(Number) });
  expect(await exportPlan(services, DEMO_ACTOR, "yaml")).not.toContain("rawing-office");
  await expect(createFleet(services, DEMO_ACTOR, { name: "drawing-Office", select: DESKS })).rejects.toMatchObject({
    code: "name_taken",
  });
  const file = `umbrik: 1\nschedules: []\nfleets:\n  - { name: Drawing-office, select: "${DESKS}" }\n`;
  await expect(previewPlan(services, DEMO_ACTOR, file)).rejects.toThrow("Drawing-office is retired");
  await bringBackFleet(services, DEMO_ACTOR, id);
  expect((await list()).at(-1)).toMatchObject({ name: "Drawing-office", retiredAt: null, isInForce: false });
  await expect(bringBackFleet(services, DEMO_ACTOR, id)).rejects.toMatchObject({ code: "not_found" });
});

test("a plan file ranks the fleets as it lists them, and names those that it lacks", async () => {
  const text = PLAN.replace(/ {2}- \{ name: oslo.*\n/, "").replace(
    /( {2}- \{ name: all-desks.*\n)( {2}- \{ name: unused.*\n)/,
    "$2$1",
  );
  const preview = await previewPlan(services, DEMO_ACTOR, text);
  expect(preview.changed).toContain("the order of the fleets");
  expect(preview.absent).toEqual(["all-desks-copy", "all-desks-copy-2", "Drawing-office"]);
  await importPlan(services, DEMO_ACTOR, { text, confirmedStops: preview.moves.stops.length });
  expect((await list()).map(({ name }) => name).slice(0, 2)).toEqual(["unused", "all-desks"]);
  expect((await previewPlan(services, DEMO_ACTOR, text)).changed).toEqual([]);
});

test("measured savings follow a fleet to its new name", async () => {
  here.keeper.stepTo(here.keeper.now() + 2 * 86_400);
  await runRound(services, WORKER, "act");
  await closeSpendDays(services, WORKER);
  await measureSavings(services, WORKER);
  const measured = async () =>
    (await services.pool.query("select distinct fleet from realised_day")).rows.map(({ fleet }) => fleet);
  expect(await measured()).toEqual(["all-desks"]);
  const { id, version } = await named("all-desks");
  await renameFleet(services, DEMO_ACTOR, { id, name: "every-desk", version });
  expect(await measured()).toEqual(["every-desk"]);
  await measureSavings(services, WORKER);
  expect(await measured()).toEqual(["every-desk"]);
});
