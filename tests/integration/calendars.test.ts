import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, type Services } from "@/services/admin";
import { projectionBasis } from "@/services/cost";
import { openMachine } from "@/services/inventory";
import {
  calendarSummaries,
  exportPlan,
  holidaysOfCountry,
  holidaysOfIcs,
  importPlan,
  openCalendar,
  openWorkbench,
  previewCalendar,
  previewPlan,
  removeCalendar,
  removeSchedule,
  saveCalendar,
  scheduleIcs,
  scheduleSummaries,
} from "@/services/plans";
import { runRound } from "@/services/rounds";
import { startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
let services: Services;
beforeAll(async () => {
  world = await startWorld();
  services = world.services;
  await runRound(services, DEMO_ACTOR, "act");
});
afterAll(() => world?.close());

const oslo = async () => {
  const { stored } = await openCalendar(services, DEMO_ACTOR, "oslo");
  if (!stored) throw new Error("no calendar oslo");
  return stored;
};
/** The demo begins on Thursday 11 March 2027. */
const withToday = async () => {
  const { calendar } = await oslo();
  return { ...calendar, holidays: [...calendar.holidays, "2027-03-11"] };
};

test("a changed calendar says whom it moves before it is saved, and moves them after", async () => {
  const moves = await previewCalendar(services, DEMO_ACTOR, await withToday());
  expect(moves.followers).toMatchObject([{ fleet: "archive-index", machines: 2 }]);
  expect(moves.resizes.toSorted()).toEqual(["archive-index-01", "archive-index-02"]);
  expect(moves.stops).toEqual([]);

  const { version } = await oslo();
  const request = { calendar: await withToday(), dayNames: { "2027-03-11": "Fleet day" }, version, confirmedStops: 0 };
  expect(await saveCalendar(services, DEMO_ACTOR, request)).toBe(version + 1);
  await expect(saveCalendar(services, DEMO_ACTOR, request)).rejects.toMatchObject({ code: "changed_since" });
  expect((await oslo()).dayNames).toEqual({ "2027-03-11": "Fleet day" });
  const { rows } = await services.pool.query<{ id: string }>("select id from resource where name = 'archive-index-01'");
  const machine = await openMachine(services, DEMO_ACTOR, { id: (rows[0] as { id: string }).id, at: null });
  expect(machine.due?.level).toBe(2);
});

test("a new calendar needs a name of its own, and goes again while nobody uses it", async () => {
  const empty = { name: "oslo", rest: ["fri" as const], holidays: [] };
  const save = (name: string) =>
    saveCalendar(services, DEMO_ACTOR, { calendar: { ...empty, name }, dayNames: {}, version: 0, confirmedStops: 0 });
  await expect(save("oslo")).rejects.toMatchObject({ code: "name_taken" });
  const version = await save("quay");
  expect(await calendarSummaries(services, DEMO_ACTOR)).toContainEqual({
    name: "quay",
    rest: ["fri"],
    holidays: 0,
    schedules: [],
    machines: 0,
  });
  await removeCalendar(services, DEMO_ACTOR, "quay", version);
  await expect(removeCalendar(services, DEMO_ACTOR, "oslo", 1)).rejects.toThrow(/archive-cores.* still use it/);
});

test("holidays come from a country's list and from a file, and a bad file leaves a line and a reason", async () => {
  const list = await holidaysOfCountry(services, DEMO_ACTOR, "NO");
  expect(list.ok && list.holidays).toContainEqual({ date: "2027-05-17", name: expect.stringContaining("Constitution") });
  expect(list.ok && list.holidays.filter(({ date }) => date === "2027-03-26")).toHaveLength(1);
  expect(await holidaysOfCountry(services, DEMO_ACTOR, "XX")).toMatchObject({ ok: false });
  const text =
    "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART;VALUE=DATE:20270601\r\nSUMMARY:Quay day\r\nEND:VEVENT\r\nEND:VCALENDAR";
  expect(await holidaysOfIcs(services, DEMO_ACTOR, { text, zone: "Europe/Oslo" })).toMatchObject({
    holidays: [{ date: "2027-06-01", name: "Quay day" }],
  });
  expect(await holidaysOfIcs(services, DEMO_ACTOR, { text: "hello", zone: "UTC" })).toMatchObject({ ok: false, line: 1 });
});

test("schedules say where they are used, as a line where one can say them, and go out as a calendar", async () => {
  const { schedules } = await scheduleSummaries(services, DEMO_ACTOR);
  const named = (name: string) => schedules.find((schedule) => schedule.name === name);
  expect(named("archive-cores")).toMatchObject({ line: null, followers: [{ fleet: "archive-index", machines: 2 }], drafts: [] });
  expect(named("desks-santiago")).toMatchObject({
    line: "Mo-Th 08:00-19:00; Fr 08:00-17:00; PH off",
    followers: [],
    drafts: ["draughting-santiago"],
  });
  const text = await scheduleIcs(services, DEMO_ACTOR, { name: "desks-santiago", zone: null });
  expect(text).toContain("TZID:America/Santiago");
  expect(text.match(/BEGIN:VEVENT/g)?.length).toBeLessThan(20);
  await expect(scheduleIcs(services, DEMO_ACTOR, { name: "nothing", zone: null })).rejects.toMatchObject({ code: "not_found" });
  // Named by the tags of a draft's machines.
  expect(named("classroom")).toMatchObject({ followers: [], drafts: ["training"] });
  await expect(removeSchedule(services, DEMO_ACTOR, "archive-cores")).rejects.toThrow("archive-index still use it");
  await expect(removeSchedule(services, DEMO_ACTOR, "classroom")).rejects.toThrow("training still use it");
});

test("the plan goes out as a file and comes in again without a change", async () => {
  const text = await exportPlan(services, DEMO_ACTOR, "yaml");
  expect(await previewPlan(services, DEMO_ACTOR, text)).toMatchObject({
    added: [],
    changed: [],
    moves: { stops: [], starts: [] },
  });
  const json = await exportPlan(services, DEMO_ACTOR, "json");
  expect((JSON.parse(json) as { fleets: unknown[] }).fleets).toHaveLength(6);
});

test("a plan file brings calendars, schedules and drafts; what is wrong in one is told by line and column and changes nothing", async () => {
  const text = `umbrik: 1
schedules:
  - { name: night, zone: Europe/Oslo, rows: [{ day: daily, spans: ["22:00-06:00"] }] }
  - { name: desks-santiago, zone: America/Santiago, rows: [{ day: workdays, spans: ["09:00-18:00"] }] }
fleets:
  - { name: draughting-santiago, select: team = draughting, hours: night }
  - { name: watch, select: has watch }
`;
  const preview = await importPlan(services, DEMO_ACTOR, { text, confirmedStops: 0 });
  expect(preview).toMatchObject({
    added: ["schedule night", "fleet watch"],
    changed: ["schedule desks-santiago", "fleet draughting-santiago"],
  });
  // Nothing names the old one any more, so it may go.
  await removeSchedule(services, DEMO_ACTOR, "desks-santiago");
  await expect(removeSchedule(services, DEMO_ACTOR, "desks-santiago")).rejects.toMatchObject({ code: "not_found" });
  const { fleet } = await openWorkbench(services, DEMO_ACTOR, 4);
  expect(fleet).toMatchObject({ name: "draughting-santiago", draft: { hours: "night" }, inForce: null });

  const broken = text.replace('"22:00-06:00"', '"25:00-06:00"');
  await expect(importPlan(services, DEMO_ACTOR, { text: broken, confirmedStops: 0 })).rejects.toMatchObject({
    fields: [{ path: expect.stringMatching(/^3:\d+$/), message: expect.stringContaining("25:00") }],
  });
});

test("a lead is suggested from starts as they were measured", async () => {
  const selector = "name ~ archive-index-*";
  expect((await projectionBasis(services, DEMO_ACTOR, { selector, fleetId: null })).starts).toBeNull();
  const change = (n: number, at: number, state: string) =>
    services.pool.query(
      `insert into state_change (account, n, resource_id, at, type, state, level, note)
       select account, $1::integer, id, to_timestamp($2::double precision), $3::text, $3::text, 6, ''
       from resource where name = 'archive-index-01'`,
      [n, at, state],
    );
  const { now } = await services.clock.read();
  for (let i = 0; i < 20; i++) {
    await change(900_000 + 3 * i, now - 90_000 + i * 1000, i < 5 ? "hibernated" : "stopped");
    await change(900_001 + 3 * i, now - 89_900 + i * 1000, "starting");
    await change(900_002 + 3 * i, now - 89_900 + i * 1000 + 60 + i, "running");
  }
  expect((await projectionBasis(services, DEMO_ACTOR, { selector, fleetId: null })).starts).toEqual({
    count: 20,
    resumes: 5,
    p95S: 78,
    suggestedMinutes: 2,
  });
});
