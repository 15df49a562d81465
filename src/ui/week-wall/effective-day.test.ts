import fc from "fast-check";
import { expect, test } from "vitest";
import { compileSchedule, scheduleSchema } from "@/core/hours";
import { dayNumber, formatDate } from "@/core/time";
import { effectiveDay, onSeconds } from "./effective-day";

const daily = (zone: string, span: string) =>
  compileSchedule(scheduleSchema.parse({ name: "s", zone, rows: [{ day: "daily", spans: [span] }] }));
const day = (zone: string, date: string, span = "00:00-24:00") => effectiveDay(daily(zone, span), dayNumber(date));

test("a day has 23 hours where the clock springs forward, 25 where it falls back, and half an hour more on an island", () => {
  expect(day("Europe/Oslo", "2027-03-27").hours).toBe(24);
  expect(day("Europe/Oslo", "2027-03-28").hours).toBe(23);
  expect(day("Europe/Oslo", "2027-10-31").hours).toBe(25);
  expect(day("America/Santiago", "2027-04-03").hours).toBe(25);
  expect(day("Australia/Lord_Howe", "2027-04-04").hours).toBe(24.5);
});

test("a night that loses an hour is an hour shorter on that day", () => {
  expect(onSeconds(day("Europe/Oslo", "2027-03-28", "00:00-06:00"))).toBe(5 * 3600);
  expect(onSeconds(day("Europe/Oslo", "2027-10-31", "00:00-06:00"))).toBe(7 * 3600);
  expect(onSeconds(day("Europe/Oslo", "2027-03-28", "07:30-18:00"))).toBe(10.5 * 3600);
});

test("days follow each other without a gap, and their intervals tile them", () => {
  const zones = fc.constantFrom("Europe/Oslo", "America/Santiago", "Pacific/Auckland", "Asia/Kathmandu", "Australia/Lord_Howe");
  fc.assert(
    fc.property(zones, fc.integer({ min: dayNumber("2027-01-01"), max: dayNumber("2028-01-01") }), (zone, first) => {
      const compiled = daily(zone, "22:00-06:00");
      const [one, two] = [effectiveDay(compiled, first), effectiveDay(compiled, first + 1)];
      expect(two.from, formatDate(first)).toBe(one.to);
      expect(one.intervals[0]?.from).toBe(one.from);
      expect(one.intervals.at(-1)?.to).toBe(one.to);
      expect(onSeconds(one)).toBeLessThan(one.to - one.from);
    }),
    { numRuns: 200, seed: 71 },
  );
});
