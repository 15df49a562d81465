import fc from "fast-check";
import { expect, test } from "vitest";
import { compileSchedule, scheduleSchema } from "../hours";
import { hoursTarget } from "../targets";
import { DAY_S, localTime, weekdayIndex } from "../time";
import { LIKELY_STEP_S, likelyUnits, poolUse, wholeUnits } from "./likely";

const ZONE = "Europe/Oslo";
/** Monday 1 March 2027 in Oslo, four weeks before the clocks change. */
const START = Date.UTC(2027, 1, 28, 23) / 1000;
const SLOT = 300;
const MACHINES = 12;
const compiled = compileSchedule(
  scheduleSchema.parse({ name: "s", zone: ZONE, rows: [{ day: "workdays", spans: ["07:00-18:00 x2"] }] }),
);
const target = hoursTarget(compiled, { leadMinutes: 0, all: MACHINES });
const people = (perWeek: readonly number[]) => ({
  firstEnd: START + SLOT,
  slotS: SLOT,
  knownFrom: START,
  inUse: Array.from({ length: (28 * DAY_S - 3600) / SLOT }, (_, i) => {
    const { day, second } = localTime(ZONE, START + i * SLOT);
    const week = Math.floor((i * SLOT) / (7 * DAY_S));
    return weekdayIndex(day) < 5 && second >= 9 * 3600 && second < 16 * 3600 ? (perWeek[week] as number) : 0;
  }),
});

test("what is likely is the mean of what the plan would have wanted in the past weeks, by the local time of the week", () => {
  fc.assert(
    fc.property(
      fc.array(fc.nat(14), { minLength: 4, maxLength: 4 }),
      fc.nat(4),
      fc.integer({ min: 0, max: 20 * 96 }),
      (perWeek, spare, later) => {
        const use = poolUse(people(perWeek), ZONE);
        expect(use).toHaveLength(4);
        // Beyond the change of clocks too.
        const from = START + 28 * DAY_S + later * LIKELY_STEP_S;
        const [units] = likelyUnits(use, { target, spare, machines: MACHINES }, { from, count: 1 });
        const { day, second } = localTime(ZONE, from);
        const isWorkday = weekdayIndex(day) < 5;
        // A slot counts by what holds at its end.
        const end = second + LIKELY_STEP_S;
        const hours = isWorkday && end >= 7 * 3600 && end < 18 * 3600 ? 2 : 0;
        const there = perWeek.map((count) => (isWorkday && second >= 9 * 3600 && second < 16 * 3600 ? count : 0));
        const slow = there.map((count) => Math.min(MACHINES, Math.max(hours, count + (hours > 0 ? spare : 0))));
        expect(units).toBeCloseTo(slow.reduce((sum, one) => sum + one, 0) / 4, 9);
      },
    ),
    { numRuns: 200 },
  );
});

test("where nothing is known of people the plan's hours are likely, and whole units come to the same over time", () => {
  expect(likelyUnits([], { target, spare: 3, machines: MACHINES }, { from: START + 10 * 3600, count: 1 })).toEqual([3]);
  fc.assert(
    fc.property(fc.array(fc.double({ min: 0, max: 9, noNaN: true }), { minLength: 1, maxLength: 200 }), (likely) => {
      const whole = wholeUnits(likely);
      const sum = (list: readonly number[]) => list.reduce((total, one) => total + one, 0);
      expect(Math.abs(sum(whole) - sum(likely))).toBeLessThanOrEqual(0.5 + 1e-6);
      whole.forEach((units, i) => {
        expect(Number.isInteger(units)).toBe(true);
        expect(Math.abs(units - (likely[i] as number))).toBeLessThanOrEqual(1 + 1e-6);
      });
    }),
  );
});
