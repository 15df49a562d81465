import { afterAll, beforeAll, expect, test } from "vitest";
import { scheduleToFile } from "@/core/hours";
import type { FleetDraft } from "@/core/plan";
import { DEMO_ACTOR, NotAllowedError, RefusedError, type Services } from "@/services/admin";
import { projectionBasis } from "@/services/cost";
import {
  createFleet,
  fleetSummaries,
  keepDraft,
  openWorkbench,
  previewInForce,
  putInForce,
  saveCalendar,
  storedDraft,
} from "@/services/plans";
import { runRound } from "@/services/rounds";
import { scheduleList } from "@/store";
import { startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
let services: Services;
beforeAll(async () => {
  world = await startWorld();
  services = world.services;
  await runRound(services, DEMO_ACTOR, "act");
});
afterAll(() => world.close());

async function refusal(work: Promise<unknown>): Promise<RefusedError> {
  const error = await work.then(
    () => null,
    (caught: unknown) => caught,
  );
  expect(error).toBeInstanceOf(RefusedError);
  return error as RefusedError;
}

async function savedFleet(
  name: string,
  more: Partial<FleetDraft> = {},
): Promise<{ id: number; draft: FleetDraft; version: number }> {
  const id = await createFleet(services, DEMO_ACTOR, { name, select: "team = platform" });
  const { fleet } = await openWorkbench(services, DEMO_ACTOR, id);
  const draft = { ...fleet.draft, ...more };
  return { id, draft, version: await keepDraft(services, DEMO_ACTOR, { id, draft, version: fleet.version }) };
}
const week = (name: string, spans: string[]): FleetDraft["schedule"] => ({
  name,
  zone: "Europe/Oslo",
  outside: "off",
  rows: [{ day: "workdays", spans }],
});

test("the list shows fleets in rank order with what they match, and the last saved ranks below", async () => {
  await savedFleet("ranked-last");
  const list = await fleetSummaries(services, DEMO_ACTOR);
  expect(list.map(({ name }) => name).slice(0, 2)).toEqual(["harbour", "archive-index"]);
  expect(list.at(-1)).toMatchObject({ name: "ranked-last", isInForce: false, matches: 13 });
  expect(list.find(({ name }) => name === "training")).toMatchObject({ hours: "from tag hours", matches: 22 });
});

test("a fleet with a taken name or a broken selector is not saved, and each fault is told at its field", async () => {
  const taken = await refusal(createFleet(services, DEMO_ACTOR, { name: "harbour", select: "team = x" }));
  expect(taken.fields).toEqual([{ path: "name", message: 'there is a fleet "harbour" already' }]);
  const broken = await refusal(createFleet(services, DEMO_ACTOR, { name: " ", select: "team =" }));
  expect(broken.fields.map(({ path }) => path)).toEqual(["select", "name"]);
  expect((await fleetSummaries(services, DEMO_ACTOR)).some(({ select }) => select === "team =")).toBe(false);
});

test("a draft is never written over somebody else's", async () => {
  const { id, draft, version } = await savedFleet("edited-by-two");
  await keepDraft(services, DEMO_ACTOR, { id, draft: { ...draft, lead: 10 }, version });
  const late = await refusal(keepDraft(services, DEMO_ACTOR, { id, draft: { ...draft, lead: 20 }, version }));
  expect(late.code).toBe("changed_since");
  expect((await openWorkbench(services, DEMO_ACTOR, id)).fleet.draft.lead).toBe(10);
});

test("a page is never refused its own writing: of two that cross each other the later one stays", async () => {
  const { id, draft, version } = await savedFleet("edited-by-one", {
    select: "name = nobody",
    hours: "one-week",
    schedule: week("one-week", ["07:00-18:00"]),
  });
  const keep = (minutes: number, write: number, { from = version, editor = "page" } = {}) =>
    keepDraft(services, DEMO_ACTOR, { id, draft: { ...draft, lead: minutes }, version: from, by: { editor, write } });
  const leadNow = async () => (await storedDraft(services, DEMO_ACTOR, id)).draft.lead;
  const first = await keep(10, 1);
  // It was reloaded in between and knows nothing of its last answer.
  const second = await keep(20, 2);
  expect(second).toBe(first + 1);
  // What it sent as it was left comes in late.
  expect(await keep(15, 1)).toBe(second);
  expect(await leadNow()).toBe(20);
  // Somebody else wrote: now its own old version is old.
  const theirs = await keep(30, 1, { from: second, editor: "another page" });
  expect((await refusal(keep(25, 3, { from: second }))).code).toBe("changed_since");
  expect(await leadNow()).toBe(30);
  await keep(25, 4, { from: theirs });
  // What was put in force since is no draft of its own.
  await putInForce(services, DEMO_ACTOR, { id, version: theirs + 1, why: "try", confirmedStops: 100 });
  expect((await refusal(keep(5, 5, { from: theirs + 1 }))).code).toBe("changed_since");
});

test("a plan that does not read is kept as a draft, is not put in force, and leaves nothing half-saved", async () => {
  const { id, version } = await savedFleet("half-typed", { hours: "odd-week", schedule: week("odd-week", ["25:00-18:00"]) });
  const refused = await refusal(putInForce(services, DEMO_ACTOR, { id, version, why: "try", confirmedStops: 0 }));
  expect(refused.fields[0]).toMatchObject({ path: "schedule.rows.0.spans.0", message: expect.stringContaining("25:00") });
  const { fleet, versions } = await openWorkbench(services, DEMO_ACTOR, id);
  expect(fleet.inForce).toBeNull();
  expect(versions).toEqual([]);
  expect(fleet.draft.schedule?.rows[0]?.spans).toEqual(["25:00-18:00"]);
  expect((await scheduleList(services.pool)).some(({ name }) => name === "odd-week")).toBe(false);
});

test("putting in force asks for the number of stops that is true now", async () => {
  const { id, draft, version } = await savedFleet("counted", {
    hours: "counted-week",
    schedule: week("counted-week", ["08:00-16:00"]),
  });
  const { stops, starts, edges } = await previewInForce(services, DEMO_ACTOR, draft);
  expect(stops.length).toBe(13);
  expect(starts).toEqual([]);
  expect(edges.map(({ to }) => to)).toEqual([1, 0]);
  const refused = await refusal(putInForce(services, DEMO_ACTOR, { id, version, why: "x", confirmedStops: 12 }));
  expect(refused.code).toBe("count_differs");
  const next = await putInForce(services, DEMO_ACTOR, { id, version, why: "builds rest at night", confirmedStops: 13 });
  const opened = await openWorkbench(services, DEMO_ACTOR, id);
  expect(opened.fleet).toMatchObject({ version: next, inForce: { hours: "counted-week" }, draft: { schedule: null } });
  expect(opened.versions[0]).toMatchObject({ number: 1, why: "builds rest at night", person: "demo" });
  expect((await fleetSummaries(services, DEMO_ACTOR)).find(({ name }) => name === "counted")).toMatchObject({
    isInForce: true,
    hasChanges: false,
  });
});

test("changing a schedule that others follow says whom it also moves", async () => {
  const { draft } = await savedFleet("borrower", {
    select: "team = viewer",
    hours: "counted-week",
    schedule: week("counted-week", ["09:00-10:00"]),
  });
  expect((await previewInForce(services, DEMO_ACTOR, draft)).alsoMoves).toMatchObject([{ fleet: "counted", machines: 13 }]);
});

test("the basis of a projection holds what a higher fleet has already apart", async () => {
  const basis = await projectionBasis(services, DEMO_ACTOR, {
    selector: "team in (platform, viewer) and kind = machine",
    fleetId: null,
  });
  const claimed = basis.lines.filter(({ claimedBy }) => claimedBy === "counted");
  expect(claimed).toHaveLength(13);
  expect(basis.lines.length - claimed.length).toBe(11);
  const broken = await projectionBasis(services, DEMO_ACTOR, { selector: "team ==", fleetId: null });
  expect(broken).toMatchObject({ lines: [], selectorError: { at: 6 } });
});

test("whoever lacks a right is refused before anything is read or written", async () => {
  const visitor = { name: "visitor", grants: [{ right: "look", reach: "everything" }] } as const;
  await expect(createFleet(services, visitor, { name: "theirs", select: "team = x" })).rejects.toThrow(NotAllowedError);
  await expect(runRound(services, visitor, "act")).rejects.toThrow("visitor may not ask for rounds");
  await expect(fleetSummaries(services, { name: "nobody", grants: [] })).rejects.toThrow(NotAllowedError);
});

test("of two who put fleets in force that write one schedule at the same instant, one is told that the hours are others now", async () => {
  const hours = (spans: string[]) => ({ ...(week("shared", spans) as NonNullable<FleetDraft["schedule"]>) });
  const [one, other] = await Promise.all([
    savedFleet("writes-one", { select: "name = build-01", hours: "shared", schedule: hours(["07:00-18:00"]) }),
    savedFleet("writes-other", { select: "name = build-02", hours: "shared", schedule: hours(["09:00-12:00"]) }),
  ]);
  const looked = await Promise.all([one, other].map(({ draft }) => previewInForce(services, DEMO_ACTOR, draft)));
  expect(looked.map(({ replaces }) => replaces)).toEqual([null, null]);
  const press = ({ id, version }: { id: number; version: number }, replaces: string | null) =>
    putInForce(services, DEMO_ACTOR, { id, version, why: "both at once", confirmedStops: 100, replaces }).then(
      () => "in force",
      (error: unknown) => (error as RefusedError).message,
    );
  const came = await Promise.all([press(one, null), press(other, null)]);
  expect(came.sort()).toEqual([
    'Somebody else changed the hours "shared" since you looked. Nothing was put in force; look at what it would do now.',
    "in force",
  ]);
  const list = await fleetSummaries(services, DEMO_ACTOR);
  const inForce = list.filter(({ name, isInForce }) => name.startsWith("writes-") && isInForce);
  expect(inForce).toHaveLength(1);
  const [won, late] = inForce[0]?.id === one.id ? [one, other] : [other, one];
  const written = (await scheduleList(services.pool)).find(({ name }) => name === "shared");
  expect(written && JSON.stringify(scheduleToFile(written).rows)).toBe(JSON.stringify(won.draft.schedule?.rows));
  // Whoever looks again sees what it would do to the hours of now, and may.
  const again = await previewInForce(services, DEMO_ACTOR, late.draft);
  expect(again.replaces).not.toBeNull();
  expect(await press(late, again.replaces)).toBe("in force");
});

test("a calendar and a plan in force that are written at once are both decided by what the other wrote", async () => {
  const { id, version } = await savedFleet("at-once", {
    select: "name = build-03",
    hours: "at-once",
    schedule: week("at-once", ["08:00-17:00"]),
  });
  const calendar = { name: "at-once-days", rest: ["sat", "sun"] as const, holidays: [] };
  await Promise.all([
    putInForce(services, DEMO_ACTOR, { id, version, why: "try", confirmedStops: 100 }),
    saveCalendar(services, DEMO_ACTOR, { calendar: calendar as never, dayNames: {}, version: 0, confirmedStops: 100 }),
  ]);
  expect((await fleetSummaries(services, DEMO_ACTOR)).find(({ name }) => name === "at-once")).toMatchObject({ isInForce: true });
});
