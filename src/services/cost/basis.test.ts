import { expect, test } from "vitest";
import { leadBasis } from "./basis";
import { endOfMonth } from "./burn/month";

test("the end of a month is the first instant of the next, in December too", () => {
  expect(endOfMonth(Date.UTC(2027, 2, 31, 23, 59, 59) / 1000)).toBe(Date.UTC(2027, 3, 1) / 1000);
  expect(endOfMonth(Date.UTC(2027, 11, 1) / 1000)).toBe(Date.UTC(2028, 0, 1) / 1000);
});

test("a lead is suggested from the time that 95 of 100 starts stay under, in whole minutes", () => {
  const times = (list: number[]) => list.map((seconds) => ({ seconds, isResume: seconds < 30 }));
  expect(leadBasis([])).toBeNull();
  expect(leadBasis(times([61]))).toEqual({ count: 1, resumes: 0, p95S: 61, suggestedMinutes: 2 });
  expect(leadBasis(times(Array.from({ length: 100 }, (_, i) => i + 1)))).toEqual({
    count: 100,
    resumes: 29,
    p95S: 95,
    suggestedMinutes: 2,
  });
});
