import { expect, test } from "vitest";
import { aFleet, aMachine } from "../../../tests/support/make";
import { asLevel, compileSchedule, scheduleSchema } from "../hours";
import { loweredBelow } from ".";

const group = (own: number, level = own) =>
  aMachine({ name: `g${own}`, kind: "group", levelMax: 12, ownSize: asLevel(own), level: asLevel(level) });
const lowered = (spans: string[], resources = [group(6)], { outside = "off" as "off" | "leave" | number, size = 0 } = {}) => {
  const rows = [{ day: "daily", spans }];
  const compiled = compileSchedule(scheduleSchema.parse({ name: "s", zone: "UTC", outside, rows }));
  const plan = aFleet(size > 0 ? { size } : {});
  return loweredBelow(resources, { plan, hoursOf: () => ({ kind: "schedule", compiled }) }).map(
    ({ resource, had, most }) => `${resource.name}: ${had} to ${most}`,
  );
};

test("a group that had six and never gets more than four is told with both numbers", () => {
  expect(lowered(["08:00-18:00 x4"])).toEqual(["g6: 6 to 4"]);
  expect(lowered(["08:00-18:00 x4", "18:00-20:00 x2"], [group(6), group(3)])).toEqual(["g6: 6 to 4"]);
  expect(lowered(["08:00-18:00 x4"], [group(2, 5)])).toEqual(["g2: 5 to 4"]);
  expect(lowered(["08:00-18:00 x1"], [group(6)], { outside: "leave" })).toEqual(["g6: 6 to 1"]);
});

test("on is its own size and lowers nothing, unless the plan names a smaller one", () => {
  expect(lowered(["08:00-18:00"])).toEqual([]);
  expect(lowered(["08:00-18:00"], [group(6)], { size: 4 })).toEqual(["g6: 6 to 4"]);
  expect(lowered(["08:00-18:00 x2", "18:00-20:00 x8"])).toEqual([]);
  expect(lowered(["08:00-18:00 x4"], [group(6)], { outside: 6 })).toEqual([]);
  expect(lowered(["08:00-18:00"], [aMachine()])).toEqual([]);
});
