import { expect, test } from "vitest";
import { aFleet, aMachine, PROVIDER } from "../../../tests/support/make";
import { compileSchedule, expand, scheduleSchema } from "../hours";
import { hoursFinder, zoneOf } from ".";

const office = compileSchedule(scheduleSchema.parse({ name: "desks-oslo", zone: "Europe/Oslo", rows: [] }));
const regions = [
  { name: "fjord-1", peopleZone: "Europe/Oslo", zones: [] },
  { name: "terai-1", peopleZone: "Asia/Kathmandu", zones: [] },
];
const find = hoursFinder(new Map([["desks-oslo", office]]), new Map([["a1", { ...PROVIDER, regions }]]));
const byTag = aFleet({ hours: { fromTag: "hours" } });
const said = (hours: string) => find(aMachine({ tags: { hours } }), byTag);

test("a fleet's own schedule is followed by all of it, and the same answer is the same object", () => {
  const fleet = aFleet({ hours: "desks-oslo" });
  expect(find(aMachine({ name: "a" }), fleet)).toEqual({ kind: "schedule", compiled: office });
  expect(find(aMachine({ name: "a" }), fleet)).toBe(find(aMachine({ name: "b" }), fleet));
  expect(find(aMachine(), aFleet({ hours: undefined }))).toEqual({ kind: "none" });
});

test("a tag names a schedule or is a line; a machine without the tag says which is missing", () => {
  expect(said("desks-oslo")).toMatchObject({ kind: "schedule", compiled: office });
  expect(said(" desks-oslo ")).toMatchObject({ kind: "schedule", compiled: office });
  expect(said("Mo-Fr 08:00-18:00")).toMatchObject({ kind: "schedule", compiled: { schedule: { zone: "Europe/Oslo" } } });
  expect(find(aMachine({ tags: {} }), byTag)).toEqual({ kind: "untagged", key: "hours" });
});

test("a mistyped name and a mistyped line are told apart, each with the nearest right one", () => {
  expect(said("desks-olso")).toEqual({ kind: "unknown", text: "desks-olso", nearest: "desks-oslo" });
  expect(said("Mon-Fri 08:00-18:00")).toEqual({
    kind: "unreadable",
    text: "Mon-Fri 08:00-18:00",
    message: 'character 1: "Mon" is not a day; did you mean Mo?',
    nearest: "Mo-Fr 08:00-18:00",
  });
  expect(said("8-18")).toMatchObject({ kind: "unreadable", nearest: "08:00-18:00" });
});

test("hours without a zone of their own are lived where each machine's people are: one schedule, two zones", () => {
  const rows = [{ day: "daily", spans: ["08:00-18:00"] }];
  const local = compileSchedule(scheduleSchema.parse({ name: "day", zone: "local", rows }));
  const finder = hoursFinder(new Map([["day", local]]), new Map([["a1", { ...PROVIDER, regions }]]));
  const fleet = aFleet({ hours: "day" });
  const at = (region: string) => finder({ fields: { account: "a1", region }, tags: {} }, fleet);
  const oslo = at("fjord-1");
  const kathmandu = at("terai-1");
  expect(oslo).toMatchObject({ kind: "schedule", compiled: { schedule: { zone: "Europe/Oslo", name: "day" } } });
  expect(at("fjord-1")).toBe(oslo);
  if (oslo.kind !== "schedule" || kathmandu.kind !== "schedule") throw new Error("both have hours");
  const morning = Date.UTC(2027, 2, 16, 4) / 1000;
  const levelAt = (compiled: typeof local) => expand(compiled, morning, morning + 1)[0]?.level;
  // At four in the morning by UTC it is a quarter to ten in Kathmandu and five in Oslo.
  expect([levelAt(oslo.compiled), levelAt(kathmandu.compiled)]).toEqual([0, 1]);
  expect(at("nowhere")).toMatchObject({ kind: "unreadable", message: expect.stringContaining("does not say which zone") });
});

test("the same line is lived in the zone of each region's people", () => {
  const far = aMachine({ tags: { hours: "Sa 09:00-13:00" } });
  const there = { ...far, fields: { ...far.fields, region: "terai-1" } };
  const zones = [far, there].map((machine) => {
    const found = find(machine, byTag);
    return found.kind === "schedule" ? found.compiled.schedule.zone : found.kind;
  });
  expect(zones).toEqual(["Europe/Oslo", "Asia/Kathmandu"]);
  expect(
    zoneOf({ ...far, fields: { ...far.fields, region: "nowhere-9" } }, new Map([["a1", { ...PROVIDER, regions }]])),
  ).toBeNull();
});
