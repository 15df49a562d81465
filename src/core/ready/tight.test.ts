import { expect, test } from "vitest";
import { tightDays } from "./tight";

test("a day is tight when those in use came within one of all that were on, and a day without anybody is none", () => {
  const dayOf = (t: number) => Math.floor(t / 100);
  // Slots of 50 s: two to a day; the first ends at 50.
  const counts = { firstEnd: 50, stepS: 50, inUse: [2, 4, 0, 0, 3, 1, 0, 2], on: [6, 6, 0, 0, 4, 4, 1, 5] };
  expect(tightDays(counts, dayOf)).toEqual({ tight: 1, days: 3 });
  expect(tightDays({ ...counts, inUse: counts.inUse.map(() => 0) }, dayOf)).toEqual({ tight: 0, days: 0 });
});
