import fc from "fast-check";
import { expect, test } from "vitest";
import { minutesLate, usualLateness } from "./lateness";

test("a sample is late by the minutes begun since its slot ended, an hour at most", () => {
  expect([900, 1_000, 1_001, 1_060, 1_061, 90_000].map((cameAt) => minutesLate(1_000, cameAt))).toEqual([0, 0, 1, 1, 2, 60]);
});

test("what is usual is the nineteenth of twenty, written out one by one", () => {
  expect(usualLateness([])).toBeNull();
  fc.assert(
    fc.property(
      fc.array(fc.record({ minutes: fc.nat(60), samples: fc.integer({ min: 1, max: 30 }) }), { minLength: 1 }),
      (came) => {
        const each = came.flatMap(({ minutes, samples }) => new Array<number>(samples).fill(minutes)).sort((a, b) => a - b);
        expect(usualLateness(came)).toBe((each[Math.ceil((each.length * 19) / 20) - 1] as number) * 60);
      },
    ),
  );
});
