import fc from "fast-check";
import { expect, test } from "vitest";
import { asLevel, compileSchedule, expandWithLead, scheduleSchema } from "../hours";
import { hoursTarget, type Target, unitsAt, unitsBySlot, unitsOf } from ".";

const FROM = Date.UTC(2027, 2, 27) / 1000;
const compiled = compileSchedule(
  scheduleSchema.parse({
    name: "s",
    zone: "Europe/Oslo",
    outside: "leave",
    rows: [{ day: "daily", spans: ["06:00-12:00", "13:00-18:00 x4"] }],
  }),
);

test("hours as a target want what they say, lead counted, `on` being all there are, and set no bounds", () => {
  const target = hoursTarget(compiled, { leadMinutes: 10, all: 9 });
  expect([target.source, target.zone]).toEqual(["hours", "Europe/Oslo"]);
  const spans = target.over({ from: FROM, to: FROM + 3 * 86_400 });
  const said = expandWithLead(compiled, { from: FROM, to: FROM + 3 * 86_400, leadS: 600, ownSize: asLevel(9) });
  expect(spans.map(({ wanted }) => wanted)).toEqual(said.map(({ level }) => level));
  expect(spans.every(({ floor, ceiling }) => floor === null && ceiling === null)).toBe(true);
  // The night before the clocks change, ten minutes ahead of six.
  expect(target.changeAfter(FROM)).toBe(FROM + 5 * 3600 - 600);
  expect(unitsAt(target, FROM)).toBeNull();
  expect(unitsAt(target, FROM + 5 * 3600)).toBe(9);
  expect(unitsAt(target, FROM + 13 * 3600)).toBe(4);
});

test("slots have what counts at their end, as asking one by one finds", () => {
  const target = hoursTarget(compiled, { leadMinutes: 0, all: 5 });
  fc.assert(
    fc.property(fc.constantFrom(60, 300, 900), fc.integer({ min: 0, max: 86_400 * 2 }), (stepS, shift) => {
      const from = FROM + Math.floor(shift / stepS) * stepS;
      const slots = unitsBySlot(target, { from, stepS, count: 40 });
      slots.forEach((units, i) => {
        const end = from + (i + 1) * stepS;
        if (i < 39) expect(Number.isNaN(units) ? null : units).toBe(unitsAt(target, end));
      });
    }),
    { numRuns: 60 },
  );
});

test("a floor lifts and a ceiling bounds whatever source wants; where they cross the ceiling wins", () => {
  expect(unitsOf({ floor: 6, wanted: 4, ceiling: null })).toBe(6);
  expect(unitsOf({ floor: null, wanted: 9, ceiling: 8 })).toBe(8);
  expect(unitsOf({ floor: 6, wanted: 1, ceiling: 5 })).toBe(5);
  expect(unitsOf({ floor: 6, wanted: null, ceiling: 5 })).toBeNull();
  // A source that nobody here knows is taken as any other.
  const drawn: Target = {
    source: "hours",
    zone: "UTC",
    over: ({ from, to }) => [{ from, to, floor: 2, wanted: 7, ceiling: 3 }],
    changeAfter: () => null,
  };
  expect([...unitsBySlot(drawn, { from: 0, stepS: 60, count: 2 })]).toEqual([3, Number.NaN]);
  expect(unitsAt(drawn, 5)).toBe(3);
});
