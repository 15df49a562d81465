import { expect, test } from "vitest";
import { draftOf, storedOf, withDay, withHolidays, withRest } from "./calendar-draft";

const STORED = {
  calendar: { name: "oslo", rest: ["sat", "sun"] as const, holidays: ["2027-03-25..2027-03-26", "2027-05-17"] },
  dayNames: { "2027-05-17": "Quay day" },
  version: 3,
};

test("a calendar opens day by day and closes as it was", () => {
  const draft = draftOf(STORED);
  expect(draft.days).toEqual({ "2027-03-25": "", "2027-03-26": "", "2027-05-17": "Quay day" });
  expect(storedOf(draft)).toEqual({ calendar: STORED.calendar, dayNames: STORED.dayNames });
  expect(storedOf(draftOf(null)).calendar).toEqual({ name: "", rest: ["sat", "sun"], holidays: [] });
});

test("a day is pressed on and off, and a range that loses its middle becomes two", () => {
  const longer = withDay(draftOf(STORED), "2027-03-27");
  expect(storedOf(longer).calendar.holidays).toEqual(["2027-03-25..2027-03-27", "2027-05-17"]);
  expect(storedOf(withDay(longer, "2027-03-26")).calendar.holidays).toEqual(["2027-03-25", "2027-03-27", "2027-05-17"]);
  expect(withDay(withDay(longer, "2027-03-26"), "2027-03-26").days["2027-03-26"]).toBe("");
});

test("rest weekdays keep the order of the week", () => {
  expect(withRest(draftOf(STORED), "fri").rest).toEqual(["fri", "sat", "sun"]);
  expect(withRest(draftOf(STORED), "sat").rest).toEqual(["sun"]);
});

test("holidays from elsewhere join, and a name is not lost to one without", () => {
  const draft = withHolidays(draftOf(STORED), [
    { date: "2027-05-17", name: "" },
    { date: "2027-03-25", name: "Long Thursday" },
    { date: "2027-12-24", name: "Lamp night" },
  ]);
  expect(draft.days).toEqual({
    "2027-03-25": "Long Thursday",
    "2027-03-26": "",
    "2027-05-17": "Quay day",
    "2027-12-24": "Lamp night",
  });
});
