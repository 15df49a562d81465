import fc from "fast-check";
import { expect, test } from "vitest";
import type { ListedResource } from "@/core/plan";
import { DAY_S } from "@/core/time";
import { listedByOurs, measuredAhead } from "./provider-clock";

const NONE = { now: 0, most: 0 };

test("a clock is measured within what the reading took, whatever that was, and no better is claimed", () => {
  fc.assert(
    fc.property(fc.integer({ min: -80_000, max: 80_000 }), fc.nat({ max: 30 }), fc.nat({ max: 30 }), (ahead, until, after) => {
      const from = 1_800_000_000;
      const at = from + until;
      const { now, most } = measuredAhead(at + ahead, { from, to: at + after, before: NONE });
      expect(Math.abs(now - ahead)).toBeLessThanOrEqual(Math.max(until, after) + 2);
      expect(Math.sign(now) * Math.sign(ahead)).toBeGreaterThanOrEqual(0);
      expect(most).toBe(Math.abs(now));
    }),
  );
});

test("what a reading cannot tell from before stays; another day's time, or none, says nothing", () => {
  const known = { now: 90, most: 600 };
  const measured = (told: number | null) => measuredAhead(told, { from: 1000, to: 1000, before: known }).now;
  expect([1088, 1090, 1092, 1093, 1001, 1000 + DAY_S].map(measured)).toEqual([90, 90, 90, 93, 0, 0]);
  expect(measuredAhead(null, { from: 1000, to: 1000, before: known })).toEqual({ now: 0, most: 600 });
});

test("a machine that stays as it is keeps its instants while the clock that tells them goes wrong and is set right", () => {
  const running = (since: number) => ({ id: "a:1", state: "running", level: 1, since, runSince: since }) as ListedResource;
  const told = (one: ListedResource, now: number) =>
    listedByOurs([one], { known: [running(5_000)], clockAhead: { now, most: 600 }, heldAt: 10_000, isFirst: false })[0];
  // Told under a right clock, or one that was ahead, read under the other.
  for (const raw of [5_000, 5_600]) for (const now of [0, 600]) expect(told(running(raw), now)).toMatchObject({ since: 5_000 });
  // Another run than is known of is told by what the clocks are apart now, and is not to come.
  expect(told(running(9_600), 600)).toMatchObject({ since: 9_000, runSince: 9_000 });
  expect(told(running(12_000), 600)).toMatchObject({ since: 10_000, runSince: 10_000 });
  expect(told({ ...running(9_000), state: "stopped", level: 0 as ListedResource["level"], runSince: null }, 600)).toMatchObject({
    since: 8_400,
    runSince: null,
  });
});
