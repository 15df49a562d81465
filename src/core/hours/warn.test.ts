import { expect, test } from "vitest";
import { tryParseInstant } from "../time";
import { compileSchedule, scheduleSchema, scheduleWarnings } from ".";

const FROM = tryParseInstant("2027-03-11T05:00:00Z") as number;
const OSLO = { name: "oslo", rest: ["sat", "sun"] as const, holidays: ["2027-03-26..2027-03-29"] };
const warn = (rows: unknown[], leadMinutes = 0, calendar = OSLO) =>
  scheduleWarnings(compileSchedule(scheduleSchema.parse({ name: "s", zone: "Europe/Oslo", rows }), calendar), {
    from: FROM,
    leadMinutes,
  });

test("a plain week has nothing odd about it", () => {
  expect(warn([{ day: "workdays", spans: ["07:30-18:00"] }], 15)).toEqual([]);
});

test("spans that overlap are named", () => {
  expect(warn([{ day: "mon", spans: ["08:00-18:00", "17:00-20:00 x2"] }])).toEqual([
    { code: "overlap", row: 0, label: "mon", first: "08:00-18:00", second: "17:00-20:00 x2" },
  ]);
});

test("a row that never applies is named: overridden, on no day, or over", () => {
  const rows = [
    { day: "workdays", spans: ["08:00-18:00"] },
    { day: ["mon", "tue", "wed", "thu", "fri"], spans: ["09:00-17:00"], holidays: "too" },
    { day: "2027-01-01..2027-01-05", off: true },
  ];
  expect(warn(rows)).toEqual([
    { code: "never", row: 0, label: "workdays", isPast: false },
    { code: "never", row: 2, label: "2027-01-01..2027-01-05", isPast: true },
  ]);
  const withoutHolidays = { ...OSLO, holidays: [] };
  expect(
    warn(
      [
        { day: "daily", spans: ["08:00-18:00"] },
        { day: "holidays", off: true },
      ],
      0,
      withoutHolidays,
    ),
  ).toMatchObject([{ code: "never", label: "holidays", isPast: false }]);
});

test("a week that never switches anything on is named", () => {
  expect(warn([{ day: "daily", spans: ["08:00-18:00 x0"] }])).toEqual([{ code: "never on" }]);
});

test("a gap that the lead swallows is named", () => {
  const lunch = [{ day: "daily", spans: ["08:00-12:00", "12:20-18:00"] }];
  expect(warn(lunch, 30)).toMatchObject([{ code: "short gap", gapMinutes: 20 }]);
  expect(warn(lunch, 10)).toEqual([]);
});
