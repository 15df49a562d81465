import { expect, test } from "vitest";
import { localText, tryParseLocal } from "./local-time";

const T = Date.UTC(2027, 2, 11, 21) / 1000;

test("a wall-clock time is written and read in its zone", () => {
  expect(localText(T, "Europe/Oslo")).toBe("2027-03-11 22:00");
  expect(localText(T, "Asia/Kathmandu")).toBe("2027-03-12 02:45");
  for (const zone of ["Europe/Oslo", "Asia/Kathmandu", "Pacific/Auckland"])
    expect(tryParseLocal(localText(T, zone), zone)).toBe(T);
  expect(tryParseLocal(" 2027-03-11T22:00 ", "Europe/Oslo")).toBe(T);
});

test.each(["2027-03-11", "2027-03-11 24:00", "2027-03-11 22:60", "2027-02-30 10:00", "tomorrow", "2027-3-11 22:00"])(
  "%s is no time",
  (text) => expect(tryParseLocal(text, "Europe/Oslo")).toBeNull(),
);

test("a time that does not occur counts with the offset before the gap, one that occurs twice is the first", () => {
  expect(tryParseLocal("2027-03-28 02:30", "Europe/Oslo")).toBe(Date.UTC(2027, 2, 28, 1, 30) / 1000);
  expect(tryParseLocal("2027-10-31 02:30", "Europe/Oslo")).toBe(Date.UTC(2027, 9, 31, 0, 30) / 1000);
});

test("both half past two of a night on which the clock goes back are told apart, and read again", () => {
  const first = Date.UTC(2027, 9, 31, 0, 30) / 1000;
  for (const [t, text] of [
    [first, "2027-10-31 02:30 +02:00"],
    [first + 3600, "2027-10-31 02:30 +01:00"],
  ] as const) {
    expect(localText(t, "Europe/Oslo")).toBe(text);
    expect(tryParseLocal(text, "Europe/Oslo")).toBe(t);
  }
  expect(localText(first - 3600, "Europe/Oslo")).toBe("2027-10-31 01:30");
  expect(localText(first + 7200, "Europe/Oslo")).toBe("2027-10-31 03:30");
  expect(tryParseLocal("2027-10-31 02:30 +03:00", "Europe/Oslo")).toBeNull();
});
