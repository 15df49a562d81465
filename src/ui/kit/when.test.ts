import { expect, test } from "vitest";
import { clockTime, dayAndTime, dayTimePlace, placeOf } from "./when";

const T = Date.UTC(2027, 2, 11, 5, 4, 9) / 1000;

test("a time is told in its zone and names its place", () => {
  expect(dayTimePlace(T, "Europe/Oslo")).toBe("Thu 11 Mar 06:04 Oslo");
  expect(dayTimePlace(T, "Asia/Kathmandu")).toBe("Thu 11 Mar 10:49 Kathmandu");
  expect(dayTimePlace(T, "America/Argentina/Buenos_Aires")).toBe("Thu 11 Mar 02:04 Buenos Aires");
  expect(placeOf("UTC")).toBe("UTC");
});

test("midnight is 00:00 of the new day", () => {
  expect(dayAndTime(Date.UTC(2027, 2, 11) / 1000, "UTC")).toBe("Thu 11 Mar 00:00");
});

test("the year is said where it is another one than now's", () => {
  expect(dayAndTime(Date.UTC(2026, 6, 29, 16) / 1000, "UTC", T)).toBe("Wed 29 Jul 2026 16:00");
  expect(dayAndTime(T, "UTC", T)).toBe("Thu 11 Mar 05:04");
});

test("the clock shows seconds only when asked", () => {
  expect(clockTime(T, "UTC")).toBe("05:04");
  expect(clockTime(T, "UTC", true)).toBe("05:04:09");
});

test("both half past two of a night on which the clock goes back are told apart, and no other hour says its offset", () => {
  const first = Date.UTC(2027, 9, 31, 0, 30) / 1000;
  expect([first - 3600, first, first + 3600, first + 7200].map((t) => clockTime(t, "Europe/Oslo"))).toEqual([
    "01:30",
    "02:30 (+02:00)",
    "02:30 (+01:00)",
    "03:30",
  ]);
  // Lord Howe puts its clock back by half an hour.
  const howe = Date.UTC(2027, 3, 3, 14, 45) / 1000;
  expect([howe, howe + 1800].map((t) => clockTime(t, "Australia/Lord_Howe"))).toEqual(["01:45 (+11:00)", "01:45 (+10:30)"]);
});
