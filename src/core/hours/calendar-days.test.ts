import { expect, test } from "vitest";
import { holidayDates, holidayRanges } from ".";

test("ranges and dates come apart in order and go together again", () => {
  const dates = holidayDates(["2027-05-17", "2027-03-26..2027-03-29", "2027-03-25", "2027-03-28"]);
  expect(dates).toEqual(["2027-03-25", "2027-03-26", "2027-03-27", "2027-03-28", "2027-03-29", "2027-05-17"]);
  expect(holidayRanges(dates)).toEqual(["2027-03-25..2027-03-29", "2027-05-17"]);
  expect(holidayRanges([])).toEqual([]);
});
