import fc from "fast-check";
import { Temporal } from "temporal-polyfill";
import { expect, test, vi } from "vitest";
import {
  clockChanges,
  formatDate,
  formatInstant,
  isZone,
  localTime,
  offsetSegments,
  tryParseDate,
  tryParseInstant,
  weekdayIndex,
} from ".";

test("an instant may carry any offset and is written in UTC", () => {
  expect(formatInstant(tryParseInstant("2027-03-11T06:00:00+01:00") as number)).toBe("2027-03-11T05:00:00Z");
  expect(formatInstant(tryParseInstant("2027-03-11T05:00:00-05:45") as number)).toBe("2027-03-11T10:45:00Z");
});

test.each([
  "2027-02-29T00:00:00Z",
  "2027-03-11T24:00:00Z",
  "2027-03-11T05:60:00Z",
  "2027-03-11T05:00:00",
  "2027-03-11",
  "11.3.2027",
  "2027-03-11T05:00:00+25:00",
])("%s is not an instant", (text) => {
  expect(tryParseInstant(text)).toBeNull();
});

test("dates go back and forth, with leap days, and name their weekday", () => {
  expect(formatDate(tryParseDate("2028-02-29") as number)).toBe("2028-02-29");
  expect(tryParseDate("2027-02-29")).toBeNull();
  expect(weekdayIndex(tryParseDate("2027-03-11") as number)).toBe(3);
  expect(weekdayIndex(tryParseDate("1969-12-28") as number)).toBe(6);
});

test("local time agrees with a calendar library in zones with odd clocks", () => {
  const zones = [
    "Europe/Oslo",
    "America/Santiago",
    "Australia/Lord_Howe",
    "Pacific/Apia",
    "Asia/Kathmandu",
    "Antarctica/Troll",
    "America/St_Johns",
  ];
  fc.assert(
    fc.property(fc.constantFrom(...zones), fc.integer({ min: 1_000_000_000, max: 2_200_000_000 }), (zone, t) => {
      const expected = Temporal.Instant.fromEpochMilliseconds(t * 1000).toZonedDateTimeISO(zone);
      const { day, second } = localTime(zone, t);
      expect(formatDate(day)).toBe(expected.toPlainDate().toString());
      expect(second).toBe(expected.hour * 3600 + expected.minute * 60 + expected.second);
    }),
    { numRuns: 400, seed: 34 },
  );
});

test("offset segments tile the span", () => {
  const from = tryParseInstant("2026-11-01T00:00:00Z") as number;
  const segments = offsetSegments("Australia/Lord_Howe", from, from + 400 * 86_400);
  expect(segments[0]?.from).toBe(from);
  segments.slice(1).forEach((segment, i) => {
    expect(segment.from).toBe(segments[i]?.to);
  });
});

test("clock changes say when and by how much", () => {
  const from = tryParseInstant("2027-01-01T00:00:00Z") as number;
  const changes = clockChanges("Europe/Oslo", from, from + 365 * 86_400);
  expect(changes.map(({ at, change }) => [formatInstant(at), change])).toEqual([
    ["2027-03-28T01:00:00Z", 3600],
    ["2027-10-31T01:00:00Z", -3600],
  ]);
});

test("only names of the zone database are zones", () => {
  expect(isZone("Asia/Kathmandu")).toBe(true);
  expect(isZone("UTC")).toBe(true);
  expect(isZone("Asia/Katmandoo")).toBe(false);
  expect(isZone("+05:45")).toBe(false);
});

test("a zone is looked up once and then remembered; a name that is none is never kept", () => {
  const lookUp = vi.spyOn(Intl, "DateTimeFormat");
  const lookUps = (name: string) => {
    lookUp.mockClear();
    isZone(name);
    isZone(name);
    return lookUp.mock.calls.length;
  };
  expect(lookUps("Pacific/Chatham")).toBe(1);
  expect(lookUps("Nowhere/At-all")).toBe(2);
  lookUp.mockRestore();
});
