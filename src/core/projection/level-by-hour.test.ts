import { expect, test } from "vitest";
import { levelByHour } from ".";

test("each hour holds its share of every stretch, cut at both ends of the span", () => {
  const stretches = [
    { from: -7200, to: 1800, level: 1 },
    { from: 3600, to: 9000, level: 4 },
    { from: 7200, to: 99_999, level: 1 },
    { from: 0, to: 3600, level: null },
    { from: 0, to: 3600, level: 0 },
  ];
  expect(levelByHour(stretches, { from: 0, hours: 3 })).toEqual([0.5, 4, 3]);
});

test("nothing that ran is a row of noughts", () => {
  expect(levelByHour([], { from: 0, hours: 2 })).toEqual([0, 0]);
});
