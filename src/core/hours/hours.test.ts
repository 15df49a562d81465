import { expect, test } from "vitest";
import { tryParseInstant } from "../time";
import { compileSchedule, expand, explain, nextEdges, type Schedule, scheduleSchema, scheduleToFile, withLead } from ".";

const at = (text: string) => tryParseInstant(text) as number;
const OSLO = { name: "oslo", rest: ["sat", "sun"] as const, holidays: ["2027-03-26..2027-03-29"] };
const read = (rows: unknown[], more: object = {}): Schedule =>
  scheduleSchema.parse({ name: "s", zone: "Europe/Oslo", rows, ...more });
const levelOn = (schedule: Schedule, time: string) => explain(compileSchedule(schedule, OSLO), at(time)).level;

test("the more specific row speaks alone, and among equals the last", () => {
  const schedule = read([
    { day: "daily", spans: ["00:00-24:00"] },
    { day: "workdays", spans: ["08:00-18:00 x2"] },
    { day: "fri", spans: ["08:00-15:00 x3"] },
    { day: ["thu", "fri"], spans: ["08:00-14:00 x4"] },
  ]);
  expect(levelOn(schedule, "2027-03-12T10:00:00+01:00")).toBe(4);
  expect(levelOn(schedule, "2027-03-12T14:30:00+01:00")).toBe(0);
  expect(levelOn(schedule, "2027-03-10T20:00:00+01:00")).toBe(0);
  expect(levelOn(schedule, "2027-03-13T20:00:00+01:00")).toBe(1);
});

test("Friday's hours do not apply on Good Friday unless the row says so", () => {
  expect(levelOn(read([{ day: "fri", spans: ["08:00-18:00"] }]), "2027-03-26T10:00:00+01:00")).toBe(0);
  expect(levelOn(read([{ day: "fri", spans: ["08:00-18:00"], holidays: "too" }]), "2027-03-26T10:00:00+01:00")).toBe(1);
});

test("a holiday is a rest day, and a row for holidays beats a weekday that counts on holidays", () => {
  const schedule = read([
    { day: "restdays", spans: ["10:00-11:00 x2"] },
    { day: "fri", spans: ["08:00-18:00"], holidays: "too" },
    { day: "holidays", spans: ["12:00-13:00 x5"] },
  ]);
  expect(levelOn(schedule, "2027-03-26T12:30:00+01:00")).toBe(5);
  expect(levelOn(schedule, "2027-03-26T10:30:00+01:00")).toBe(0);
  expect(levelOn(schedule, "2027-03-20T10:30:00+01:00")).toBe(2);
});

test("a span past midnight belongs to the day it starts on", () => {
  const schedule = read([{ day: "fri", spans: ["22:00-02:00"] }]);
  expect(levelOn(schedule, "2027-03-13T01:00:00+01:00")).toBe(1);
  expect(levelOn(schedule, "2027-03-12T01:00:00+01:00")).toBe(0);
  expect(explain(compileSchedule(schedule), at("2027-03-13T01:00:00+01:00")).considered[0]).toMatchObject({
    rule: "fri",
    applies: true,
  });
});

test("an off row switches the day off even where outside is on", () => {
  const schedule = read([{ day: "2027-04-01..2027-04-05", off: true }], { outside: 3 });
  expect(levelOn(schedule, "2027-04-03T12:00:00+02:00")).toBe(0);
  expect(levelOn(schedule, "2027-04-06T12:00:00+02:00")).toBe(3);
});

test("explain names the local time with its offset and every row it considered", () => {
  const explained = explain(
    compileSchedule(read([{ day: "workdays", spans: ["07:30-18:00"] }]), OSLO),
    at("2027-03-29T09:00:00Z"),
  );
  expect(explained.local).toBe("2027-03-29T11:00:00+02:00");
  expect(explained.considered).toEqual([
    { rule: "workdays", applies: false, why: "2027-03-29 is a rest day" },
    { rule: "outside", applies: true, why: "no span covers this minute" },
  ]);
});

test("the next edges are strictly later and only where the level changes", () => {
  const compiled = compileSchedule(
    read([
      { day: "workdays", spans: ["07:30-18:00"] },
      { day: "fri", spans: ["07:30-15:00"] },
    ]),
    OSLO,
  );
  const edges = nextEdges(compiled, { t: at("2027-03-25T06:30:00Z"), count: 3 });
  expect(edges.map((edge) => [edge.at, edge.to])).toEqual([
    [at("2027-03-25T17:00:00Z"), 0],
    [at("2027-03-30T05:30:00Z"), 1],
    [at("2027-03-30T16:00:00Z"), 0],
  ]);
  expect(nextEdges(compileSchedule(read([])), { t: 0, count: 3 })).toEqual([]);
});

test("an edge years ahead is found, and one beyond five years is not", () => {
  const compiled = compileSchedule(read([{ day: "2031-01-01", spans: ["10:00-11:00"] }]));
  expect(nextEdges(compiled, { t: at("2027-01-01T00:00:00Z"), count: 1 })[0]?.at).toBe(at("2031-01-01T09:00:00Z"));
  expect(nextEdges(compiled, { t: at("2025-01-01T00:00:00Z"), count: 1 })).toEqual([]);
});

test("a lead moves rises earlier, leaves falls, and swallows a gap shorter than itself", () => {
  const compiled = compileSchedule(read([{ day: "daily", spans: ["08:00-12:00", "12:05-18:00"] }]));
  const led = withLead(expand(compiled, at("2027-03-10T00:00:00Z"), at("2027-03-11T00:00:00Z")), 600);
  expect(led.map(({ from, level }) => [from, level])).toEqual([
    [at("2027-03-10T00:00:00Z"), 0],
    [at("2027-03-10T06:50:00Z"), 1],
    [at("2027-03-10T17:00:00Z"), 0],
  ]);
});

test("a lead never lowers a level that is still wanted", () => {
  const compiled = compileSchedule(read([{ day: "daily", spans: ["08:00-10:00 x5", "10:00-12:00 x2", "12:00-14:00 x3"] }]));
  const led = withLead(expand(compiled, at("2027-03-10T07:00:00Z"), at("2027-03-10T13:00:00Z")), 3 * 3600);
  expect(led.map(({ level }) => level)).toEqual([5, 3]);
});

test.each([
  ["25:00-18:00", "25:00"],
  ["24:00-18:00", "24:00"],
  ["07:60-18:00", "07:60"],
  ["7:30-18:00", "7:30"],
  ["07:30-24:01", "24:01"],
  ["07:30 - 18:00", "07:30 - 18:00"],
  ["07:30-18:00 x1.5", "x1.5"],
])("the span %s is refused, and the message names %s", (text, part) => {
  const result = scheduleSchema.safeParse({ name: "s", zone: "UTC", rows: [{ day: "daily", spans: [text] }] });
  expect(result.error?.issues[0]?.message).toContain(part);
  expect(result.error?.issues[0]?.path).toEqual(["rows", 0, "spans", 0]);
});

test.each([
  [{ day: "2027-02-30", off: true }, "2027-02-30"],
  [{ day: "2027-04-05..2027-04-01", off: true }, "backwards"],
  [{ day: ["mon", "workdays"], off: true }, "workdays"],
  [{ day: "funday", off: true }, "funday"],
  [{ day: "mon" }, "either"],
  [{ day: "mon", spans: [] }, ">=1"],
  [{ day: "mon", spans: ["08:00-09:00"], off: true }, "either"],
  [{ day: "daily", spans: ["08:00-09:00"], holidays: "too" }, "weekdays"],
])("the row %o is refused because of %s", (row, part) => {
  expect(JSON.stringify(scheduleSchema.safeParse({ name: "s", zone: "UTC", rows: [row] }).error?.issues)).toContain(part);
});

test.each(["Europe/Osloo", "+01:00", "", "Oslo; drop table"])("the zone %o is refused", (zone) => {
  expect(scheduleSchema.safeParse({ name: "s", zone, rows: [] }).success).toBe(false);
});

test("a schedule written to a file and read again is the same", () => {
  const schedule = read(
    [
      { day: ["mon", "tue"], spans: ["06:30-19:00", "19:00-23:30 x12"], holidays: "too" },
      { day: "2027-04-01..2027-04-05", off: true },
      { day: "fri", spans: ["22:00-02:00"] },
      { day: "daily", spans: ["00:00-24:00 x0"] },
    ],
    { outside: "leave", calendar: "oslo" },
  );
  expect(scheduleSchema.parse(scheduleToFile(schedule))).toEqual(schedule);
});
