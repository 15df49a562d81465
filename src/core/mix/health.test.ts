import { expect, test } from "vitest";
import { illSince } from "./health";

const told = (...values: readonly (number | null)[]) =>
  values.flatMap((value, i) => (value === null ? [] : [{ at: 60 * (i + 1), stepS: 60, value }]));

test("unhealthy since the slot after the last that was well; a gap, an old sample or a well one says nothing", () => {
  expect(illSince(told(1, 1, 0, 0, 0), 330)).toBe(120);
  expect(illSince(told(0, 0), 120)).toBe(0);
  expect(illSince(told(0, 0, 1), 180)).toBeNull();
  expect(illSince([], 180)).toBeNull();
  // One that is missing is bridged, two are not.
  expect(illSince(told(0, null, 0), 180)).toBe(0);
  expect(illSince(told(0, null, null, 0), 240)).toBe(180);
  // The last is three minutes old.
  expect(illSince(told(0, 0, 0), 361)).toBeNull();
});
