import { expect, test } from "vitest";
import { aFleet, aMachine, PROVIDER } from "../../../tests/support/make";
import { compileSchedule, scheduleSchema } from "../hours";
import { type FellInput, fellReader } from "./fell";

const at = (hour: number, minute = 0) => Date.UTC(2027, 2, 11, hour, minute) / 1000;
const OFFICE = compileSchedule(
  scheduleSchema.parse({ name: "s", zone: "UTC", rows: [{ day: "workdays", spans: ["08:00-18:00"] }] }),
);
const fell = (more: Partial<FellInput>, machine = aMachine()) =>
  fellReader({
    asOf: at(17),
    fleets: [aFleet()],
    schedules: new Map([["s", OFFICE]]),
    capabilities: new Map([["a1", PROVIDER]]),
    from: at(17, 59),
    to: at(18),
    ...more,
  })(machine);

test("hours fall at their edge and at no other time", () => {
  expect(fell({})).toBe(true);
  expect(fell({ from: at(17, 58), to: at(17, 59) })).toBe(false);
  expect(fell({ from: at(18), to: at(18, 1) })).toBe(false);
  expect(fell({ from: at(9), to: at(22) })).toBe(true);
  // Nobody looked from one night to the next.
  expect(fell({ from: at(3), to: at(22) })).toBe(true);
  expect(fell({ from: at(19), to: at(22) })).toBe(false);
});

test("what was guarded, in no fleet or without hours an hour before fell from nothing", () => {
  expect(fell({}, aMachine({ tags: { team: "draughting", "umbrik-guard": "" } }))).toBe(false);
  expect(fell({}, aMachine({ tags: { team: "other" } }))).toBe(false);
  expect(fell({ fleets: [aFleet({ hours: undefined })] })).toBe(false);
  const then = aMachine({ tags: { team: "other" } });
  expect(fell({}, aMachine({ earlier: [{ until: at(17, 30), was: then }] }))).toBe(false);
});
