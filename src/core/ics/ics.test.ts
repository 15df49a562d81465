import fc from "fast-check";
import ICAL from "ical.js";
import { expect, test } from "vitest";
import {
  asCount,
  asLevel,
  type Calendar,
  compileSchedule,
  expand,
  type HoursLevel,
  type Level,
  type Row,
  type Schedule,
  type Span,
} from "../hours";
import { dayNumber, formatDate, WEEKDAYS } from "../time";
import { ICS_MAX, readHolidays, scheduleToIcs } from ".";

const FROM = Date.UTC(2027, 0, 1) / 1000;
const TO = Date.UTC(2029, 0, 1) / 1000;
const SPAN = { from: FROM, to: TO, stamp: FROM };

const ZONES = ["Europe/Oslo", "America/Santiago", "Pacific/Auckland", "Asia/Kathmandu", "Australia/Lord_Howe", "UTC"];
const OSLO: Calendar = { name: "oslo", rest: ["sat", "sun"], holidays: ["2027-03-25..2027-03-29", "2027-05-17", "2028-12-25"] };

type Edge = readonly [at: number, level: Level | null];

/** When the level changes, as the ical.js package reads the text: nothing but events, rules, exceptions and its own zones. */
function edgesOfThePackage(text: string): Edge[] {
  const calendar = new ICAL.Component(ICAL.parse(text));
  for (const zone of calendar.getAllSubcomponents("vtimezone")) ICAL.TimezoneService.register(zone as never);
  const levels: { from: number; to: number; level: Level | null }[] = [];
  for (const component of calendar.getAllSubcomponents("vevent")) {
    const event = new ICAL.Event(component);
    const summary = event.summary.slice(event.summary.lastIndexOf(": ") + 2);
    const level =
      summary === "on" ? asLevel(1) : summary === "left as it is" ? null : asLevel(Number(summary.replace("level ", "")));
    const iterator = event.iterator();
    for (let next = iterator.next(); next; next = iterator.next()) {
      const { startDate, endDate } = event.getOccurrenceDetails(next);
      levels.push({ from: startDate.toUnixTime(), to: endDate.toUnixTime(), level });
    }
  }
  ICAL.TimezoneService.reset();
  levels.sort((a, b) => a.from - b.from);
  const edges: Edge[] = [];
  let at = FROM;
  for (const { from, to, level } of levels) {
    expect(from, "events do not overlap").toBeGreaterThanOrEqual(at);
    if (from > at) edges.push([at, asLevel(0)]);
    edges.push([from, level]);
    at = to;
  }
  if (at < TO) edges.push([at, asLevel(0)]);
  return edges;
}

function ourEdges(schedule: Schedule, calendar: Calendar): Edge[] {
  return expand(compileSchedule(schedule, calendar), FROM, TO)
    .filter(({ level }, i, all) => i === 0 || level !== all[i - 1]?.level)
    .map(({ from, level }) => [from, level]);
}

const span = fc
  .tuple(fc.integer({ min: 0, max: 47 }), fc.integer({ min: 1, max: 47 }), fc.constantFrom(0, 1, 1, 12))
  .map(([start, length, level]): Span => ({ start: start * 30, end: (start + length) * 30, level: asCount(level) }));
const dayKey: fc.Arbitrary<Row["day"]> = fc.oneof(
  fc.constantFrom("daily", "workdays", "restdays", "holidays").map((name) => ({ kind: "class" as const, name })),
  fc.subarray([...WEEKDAYS], { minLength: 1 }).map((days) => ({ kind: "weekdays" as const, days })),
  fc.tuple(fc.integer({ min: 0, max: 700 }), fc.integer({ min: 0, max: 9 })).map(([first, length]) => {
    const day = FROM / 86_400 + first;
    return { kind: "dates" as const, from: formatDate(day), to: formatDate(day + length) };
  }),
);
const row: fc.Arbitrary<Row> = fc.record({
  day: dayKey,
  spans: fc.array(span, { minLength: 1, maxLength: 2 }),
  onHolidays: fc.boolean(),
});
const schedule: fc.Arbitrary<Schedule> = fc.record({
  name: fc.constantFrom("desks, oslo; 2", "ærverdig åpningstid for tegnekontoret på brygga ved Skerrywick"),
  zone: fc.constantFrom(...ZONES),
  outside: fc.constantFrom<HoursLevel | null>(asCount(0), asCount(0), asCount(2), null),
  rows: fc.array(row, { minLength: 1, maxLength: 4 }),
});

test("the ical.js package finds the same edges over two years, clock changes included", () => {
  fc.assert(
    fc.property(schedule, (given) => {
      const text = scheduleToIcs(compileSchedule(given, OSLO), SPAN);
      expect(edgesOfThePackage(text)).toEqual(ourEdges(given, OSLO));
    }),
    { numRuns: 60, seed: 51 },
  );
}, 120_000);

test("office hours are one weekly event, with their exceptions, in lines of at most 75 octets", () => {
  const office: Schedule = {
    name: "desks-oslo",
    zone: "Europe/Oslo",
    outside: asCount(0),
    rows: [
      { day: { kind: "class", name: "workdays" }, spans: [{ start: 450, end: 1080, level: asCount(1) }], onHolidays: false },
    ],
  };
  const text = scheduleToIcs(compileSchedule(office, OSLO), SPAN);
  expect(text.match(/BEGIN:VEVENT/g)).toHaveLength(1);
  expect(text).toContain("DTSTART;TZID=Europe/Oslo:20270101T073000\r\n");
  expect(text).toMatch(/RRULE:FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR;UNTIL=\d{8}T063000Z\r\n/);
  expect(text.replaceAll("\r\n ", "")).toContain("20270329T073000");
  for (const line of text.split("\r\n")) expect(new TextEncoder().encode(line).length).toBeLessThanOrEqual(75);
});

const YEARS = { zone: "Europe/Oslo", from: "2027-01-01", to: "2028-12-31" };
const calendarOf = (...events: string[]) =>
  [
    "BEGIN:VCALENDAR",
    "VERSION:2.0",
    ...events.flatMap((event) => ["BEGIN:VEVENT", ...event.split("\n"), "END:VEVENT"]),
    "END:VCALENDAR",
  ].join("\r\n");
const dates = (...events: string[]) => {
  const result = readHolidays(calendarOf(...events), YEARS);
  if (!result.ok) throw new Error(result.message);
  return result.holidays.map(({ date }) => date);
};

test("holidays come with their names, days after days, and years after years", () => {
  const result = readHolidays(
    calendarOf("UID:1\nDTSTART;VALUE=DATE:20270326\nDTEND;VALUE=DATE:20270330\nSUMMARY:Easter at the quay"),
    YEARS,
  );
  expect(result).toMatchObject({ ok: true, skipped: [] });
  expect(result.ok && result.holidays).toEqual(
    ["26", "27", "28", "29"].map((day) => ({ date: `2027-03-${day}`, name: "Easter at the quay" })),
  );
  expect(dates("UID:1\nDTSTART;VALUE=DATE:20200517\nRRULE:FREQ=YEARLY\nEXDATE;VALUE=DATE:20280517")).toEqual(["2027-05-17"]);
  expect(
    dates("UID:1\nDTSTART;VALUE=DATE:20200101\nRRULE:FREQ=MONTHLY;BYDAY=-1FR;UNTIL=20270401\nRDATE;VALUE=DATE:20271231"),
  ).toEqual(["2027-01-29", "2027-02-26", "2027-03-26", "2027-12-31"]);
});

test("a date that ends on itself is that day", () => {
  expect(dates("UID:1\nDTSTART;VALUE=DATE:20270517\nDTEND;VALUE=DATE:20270517")).toEqual(["2027-05-17"]);
});

test("a day in another zone counts where it covers a whole day here", () => {
  expect(dates("UID:1\nDTSTART:20270325T230000Z\nDTEND:20270327T230000Z")).toEqual(["2027-03-26", "2027-03-27"]);
  expect(dates("UID:1\nDTSTART;TZID=Europe/Oslo:20270328T000000\nDTEND;TZID=Europe/Oslo:20270329T000000")).toEqual([
    "2027-03-28",
  ]);
  const party = readHolidays(calendarOf("UID:1\nDTSTART:20270325T130000Z\nDTEND:20270325T150000Z\nSUMMARY:Cake"), YEARS);
  expect(party).toEqual({ ok: true, holidays: [], skipped: [{ line: 3, name: "Cake", why: "it covers no whole day" }] });
});

test("an exception moves one day of a recurrence, and a cancelled event is none", () => {
  const yearly = "UID:1\nDTSTART;VALUE=DATE:20270601\nRRULE:FREQ=YEARLY";
  expect(dates(yearly, "UID:1\nRECURRENCE-ID;VALUE=DATE:20280601\nDTSTART;VALUE=DATE:20280602")).toEqual([
    "2027-06-01",
    "2028-06-02",
  ]);
  expect(dates("UID:2\nSTATUS:CANCELLED\nDTSTART;VALUE=DATE:20270601")).toEqual([]);
});

test("a rule that never comes true ends, and so does one without an end", () => {
  expect(dates("UID:1\nDTSTART;VALUE=DATE:20270130\nRRULE:FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30")).toEqual(["2027-01-30"]);
  expect(dates("UID:1\nDTSTART;VALUE=DATE:20270101\nRRULE:FREQ=DAILY")).toHaveLength(
    dayNumber("2029-01-01") - dayNumber("2027-01-01"),
  );
});

test("recurrences are those that a slow look at every day finds", () => {
  const first = dayNumber("2026-12-01");
  fc.assert(
    fc.property(
      fc.subarray(["MO", "TU", "WE", "TH", "FR", "SA", "SU"], { minLength: 1 }),
      fc.integer({ min: 0, max: 60 }),
      fc.integer({ min: 1, max: 30 }),
      (named, begin, length) => {
        const start = first + begin;
        const until = start + length * 7;
        const text = (day: number) => formatDate(day).replaceAll("-", "");
        const found = dates(
          `UID:1\nDTSTART;VALUE=DATE:${text(start)}\nRRULE:FREQ=WEEKLY;BYDAY=${named.join(",")};UNTIL=${text(until)}\nEXDATE;VALUE=DATE:${text(start + 7)}`,
        );
        const order = ["TH", "FR", "SA", "SU", "MO", "TU", "WE"];
        const slow: string[] = [];
        for (let day = start; day <= until; day++) {
          const isNamed = day === start || named.includes(order[day % 7] as string);
          if (isNamed && day !== start + 7 && formatDate(day) >= YEARS.from) slow.push(formatDate(day));
        }
        expect(found).toEqual(slow);
      },
    ),
    { numRuns: 80, seed: 52 },
  );
});

test.each([
  ["x".repeat(ICS_MAX + 1), 1, "at most 1 million"],
  ["BEGIN:VCALENDAR\r\nNONSENSE", 1, "not a calendar file"],
  ["hello", 1, "not a calendar file"],
  [calendarOf(), 1, "no event"],
  [calendarOf("UID:2\nDTSTART;VALUE=DATE:20270101\nRRULE:FREQ=SECONDLY"), 3, "comes back secondly"],
  [
    calendarOf("UID:1\nRECURRENCE-ID;VALUE=DATE:20270101\nDTSTART;VALUE=DATE:20270101\nRRULE:FREQ=YEARLY"),
    3,
    "cannot have a recurrence of its own",
  ],
  [calendarOf("UID:1\nDTSTART;VALUE=DATE:20270105\nDTEND;VALUE=DATE:20270101"), 3, "ends before it starts"],
  [calendarOf("UID:1\nSUMMARY:never"), 3, "never: it has no DTSTART"],
  [calendarOf("UID:1\nSUMMARY:leap\nDTSTART;VALUE=DATE:20270229"), 3, "leap: 2027-02-29 is no date"],
  [calendarOf("UID:1\nDTSTART;VALUE=DATE:20270228\nRDATE;VALUE=DATE:20270230"), 3, "2027-02-30 is no date"],
  [calendarOf("UID:1\nDTSTART:20270431T000000Z\nDTEND:20270502T000000Z"), 3, "2027-04-31 is no date"],
])("a file that cannot be read is refused at its line", (text, line, message) => {
  expect(readHolidays(text, YEARS)).toEqual({ ok: false, line, message: expect.stringContaining(message) });
});

test("one odd line or event is named, and refuses none of the others", () => {
  const text = calendarOf(
    "UID:1\nSUMMARY:new year\nthis is no line\n of a calendar\nDTSTART;VALUE=DATE:20270101",
    "UID:2\nSUMMARY:ever\nDTSTART;VALUE=DATE:20270101\nRRULE:FREQ=SECONDLY",
    "UID:3\nSUMMARY:leap\nDTSTART;VALUE=DATE:20270229",
  );
  expect(readHolidays(text, YEARS)).toEqual({
    ok: true,
    holidays: [{ date: "2027-01-01", name: "new year" }],
    skipped: [
      expect.objectContaining({ why: '"this is no line" is no line of a calendar' }),
      expect.objectContaining({ name: "ever", why: expect.stringContaining("comes back secondly") }),
      expect.objectContaining({ name: "leap", why: "2027-02-29 is no date" }),
    ],
  });
});

test("an exception that is a day beside a start with a time is that day, and noted", () => {
  const start = "UID:1\nSUMMARY:fair\nDTSTART;TZID=Europe/Oslo:20270701T000000\nDTEND;TZID=Europe/Oslo:20270702T000000";
  const read = readHolidays(calendarOf(`${start}\nRRULE:FREQ=DAILY;COUNT=3\nEXDATE:20270702`), { ...YEARS, zone: "Europe/Oslo" });
  expect(read).toMatchObject({
    ok: true,
    holidays: [{ date: "2027-07-01" }, { date: "2027-07-03" }],
    skipped: [{ why: "EXDATE: 20270702 says no time and is taken as that day" }],
  });
});
