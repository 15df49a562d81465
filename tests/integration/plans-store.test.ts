import { afterAll, beforeAll, expect, test } from "vitest";
import { asLevel, scheduleSchema } from "@/core/hours";
import {
  addHold,
  calendarList,
  changesOf,
  endedOverrides,
  maybeCalendar,
  overridesAround,
  overridesFrom,
  overridesKnownAt,
  type Pool,
  putCalendar,
  releaseHoldNow,
  removeCalendarAt,
  removeScheduleNamed,
  saveChanges,
  saveResources,
  saveSchedule,
  scheduleList,
  startTimes,
  writeCalendar,
} from "@/store";
import { aMachine } from "../support/make";
import { storeOfTest } from "../support/world";

let pool: Pool;
let close: () => Promise<void>;
const CHANGED = { at: 1_800_000_000, person: "demo" };
beforeAll(async () => {
  ({ pool, close } = await storeOfTest());
  await saveResources(pool, "a1", { resources: [aMachine({ name: "m1" }), aMachine({ name: "m2" })], at: 1_800_000_000 });
  await pool.query("insert into fleet (name, rank, draft) values ('f', 1, '{}')");
});
afterAll(() => close());

const hold = (more: object = {}) =>
  addHold(
    pool,
    {
      resourceId: "m1",
      fleet: null,
      level: asLevel(1),
      from: 1000,
      to: 2000,
      reason: "release",
      person: "demo",
      ...more,
    },
    0,
  );

test("holds come newest first with the name of what they hold, until they end", async () => {
  const first = await hold();
  const second = await hold({ resourceId: null, fleet: "f", to: 3000 });
  expect((await overridesFrom(pool, 1500)).map(({ id, name, to }) => [id, name, to])).toEqual([
    [second, "f", 3000],
    [first, "m1", 2000],
  ]);
  expect((await overridesFrom(pool, 2000)).map(({ id }) => id)).toEqual([second]);
  expect((await endedOverrides(pool, 2000)).map(({ id }) => id)).toEqual([first]);
});

test("a hold is released once, and as of a time before that it still counts up to its release", async () => {
  const id = await hold({ from: 5000, to: 9000 });
  expect(await releaseHoldNow(pool, id, { person: "demo", at: 6000 })).toBe(true);
  expect(await releaseHoldNow(pool, id, { person: "demo", at: 6500 })).toBe(false);
  // Of an instant before its release nobody knew that it would end early, and before it was placed nobody knew of it.
  const knownAt = async (t: number) => (await overridesKnownAt(pool, t)).filter((one) => one.id === id).map(({ to }) => to);
  const [asPlaced] = await knownAt(5999);
  expect(asPlaced).toBeGreaterThan(6000);
  expect(await knownAt(6000)).toEqual([]);
  expect(await knownAt(0)).toEqual([]);
  expect((await overridesFrom(pool, 6000)).map((one) => one.id)).not.toContain(id);
  const around = await overridesAround(pool, { resourceId: "m1", fleet: "f", at: 5500 });
  expect(around.find((one) => one.id === id)).toMatchObject({ from: 5000, to: 6000, releasedAt: 6000 });
  expect((await overridesAround(pool, { resourceId: "m1", fleet: null, at: 6000 })).map((one) => one.id)).not.toContain(id);
  expect((await overridesAround(pool, { resourceId: "m2", fleet: null, at: 5500 })).length).toBe(0);
});

test("the table refuses a hold on two things or none, one without a length, and one without a word of why", async () => {
  await expect(hold({ fleet: "f" })).rejects.toThrow(/override_of_one/);
  await expect(hold({ resourceId: null })).rejects.toThrow(/override_of_one/);
  await expect(hold({ to: 1000 })).rejects.toThrow(/override_has_length/);
  await expect(hold({ reason: "" })).rejects.toThrow(/reason/);
  await expect(hold({ resourceId: "nothing" })).rejects.toThrow(/foreign key/);
});

test("a calendar is written only over the version that was read", async () => {
  const calendar = { name: "quay", rest: ["sun" as const], holidays: ["2027-06-01"] };
  expect(await writeCalendar(pool, { calendar, dayNames: { "2027-06-01": "Quay day" }, version: 0 }, CHANGED)).toBe(1);
  expect(await writeCalendar(pool, { calendar, dayNames: {}, version: 0 }, CHANGED)).toBeNull();
  expect(await writeCalendar(pool, { calendar: { ...calendar, rest: ["sat"] }, dayNames: {}, version: 1 }, CHANGED)).toBe(2);
  expect(await writeCalendar(pool, { calendar, dayNames: {}, version: 1 }, CHANGED)).toBeNull();
  expect(await maybeCalendar(pool, "quay")).toEqual({ calendar: { ...calendar, rest: ["sat"] }, dayNames: {}, version: 2 });
});

test("a calendar from a plan file keeps the names of its days, and the same once more is no new version", async () => {
  const calendar = { name: "pier", rest: ["sun" as const], holidays: ["2027-06-01"] };
  await writeCalendar(pool, { calendar, dayNames: { "2027-06-01": "Pier day" }, version: 0 }, CHANGED);
  await putCalendar(pool, calendar, CHANGED);
  expect(await maybeCalendar(pool, "pier")).toMatchObject({ version: 1 });
  await putCalendar(pool, { ...calendar, rest: [] }, CHANGED);
  expect(await maybeCalendar(pool, "pier")).toMatchObject({ version: 2, dayNames: { "2027-06-01": "Pier day" } });
  expect(await removeCalendarAt(pool, { name: "pier", version: 1 }, CHANGED)).toBe(false);
  expect(await removeCalendarAt(pool, { name: "pier", version: 2 }, CHANGED)).toBe(true);
  expect((await calendarList(pool)).map(({ name }) => name)).not.toContain("pier");
});

test("a schedule reads back as it was written, and goes when it is taken away", async () => {
  const schedule = scheduleSchema.parse({
    name: "night",
    zone: "Asia/Kathmandu",
    outside: "leave",
    rows: [
      { day: ["mon", "tue"], spans: ["22:00-02:00 x3"], holidays: "too" },
      { day: "2027-04-01..2027-04-05", off: true },
    ],
  });
  await saveSchedule(pool, schedule, CHANGED);
  expect(await scheduleList(pool)).toEqual([schedule]);
  expect(await removeScheduleNamed(pool, "night", CHANGED)).toBe(true);
  expect(await removeScheduleNamed(pool, "night", CHANGED)).toBe(false);
});

test("starts are measured from being told to run to running, and a resume is told from a start", async () => {
  const event = (n: number, at: number, state: "running" | "stopped" | "stopping" | "starting" | "hibernated") => ({
    n,
    resourceId: "m1",
    at,
    type: state,
    state,
    level: asLevel(1),
    note: "",
  });
  await saveChanges(pool, "a1", {
    changes: [
      event(1, 100, "stopped"),
      event(2, 200, "starting"),
      event(3, 275, "running"),
      event(4, 300, "hibernated"),
      event(5, 400, "starting"),
      event(6, 420, "running"),
      event(7, 500, "stopped"),
      // Running without having been told to: no start that was measured.
      event(8, 600, "running"),
    ],
    billedWhenHalted: false,
  });
  expect(await startTimes(pool, ["m1"], 0)).toEqual([
    { seconds: 20, isResume: true },
    { seconds: 75, isResume: false },
  ]);
  expect(await startTimes(pool, ["m1"], 290)).toEqual([{ seconds: 20, isResume: true }]);
  expect(await startTimes(pool, ["m2"], 0)).toEqual([]);
  expect((await changesOf(pool, "m1", { before: 450, limit: 2 })).map(({ n }) => n)).toEqual([6, 5]);
});
