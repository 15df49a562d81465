import fc from "fast-check";
import OpeningHours from "opening_hours";
import { expect, test } from "vitest";
import { formatDate, tryParseInstant, WEEKDAYS } from "../../time";
import { compileSchedule } from "../compile";
import { expand, levelAt } from "../expand";
import { asCount } from "../level";
import { type Calendar, PLAIN_CALENDAR, type Row, type Schedule, scheduleSchema } from "../schedule";
import type { Span } from "../span";
import { printLine, readLine, readLineRows, suggestLine } from ".";

const START = Date.UTC(2027, 0, 1) / 1000;
const YEAR_S = 365 * 86_400;

/** A country of the package's own list, so that it knows the same holidays as the calendar. */
const PLACE = { address: { country_code: "no", state: "" } };
const OSLO: Calendar = { name: "oslo", rest: ["sat", "sun"], holidays: holidaysOfThePackage() };

function reader(line: string): (t: number) => number {
  const hours = new OpeningHours(line, PLACE as never);
  return (t) => {
    const date = new Date(t * 1000);
    // A comment alone makes the package say "unknown": running, at a level that is not its business.
    if (!hours.getState(date) && !hours.getUnknown(date)) return 0;
    const comment = hours.getComment(date) ?? "";
    // A holiday without a comment of its own carries its name.
    return /^\d+$/.test(comment) ? Number(comment) : 1;
  };
}

function holidaysOfThePackage(): string[] {
  const level = reader("PH 00:00-24:00");
  return Array.from({ length: 3 * 366 }, (_, day) => START / 86_400 - 200 + day)
    .filter((day) => level(day * 86_400 + 3600) === 1)
    .map(formatDate);
}

const anySpan = fc.tuple(fc.integer({ min: 0, max: 95 }), fc.integer({ min: 1, max: 60 }), fc.constantFrom(1, 1, 1, 2, 12)).map(
  ([start, length, level]): Span => ({
    start: start * 15,
    end: Math.min(start + length, start + 96) * 15,
    level: asCount(level),
  }),
);
const spans = fc.oneof(
  { weight: 6, arbitrary: fc.array(anySpan, { minLength: 1, maxLength: 3 }) },
  { weight: 1, arbitrary: fc.constant("off" as const) },
);
const dayKey: fc.Arbitrary<Row["day"]> = fc.oneof(
  fc.constantFrom("daily", "workdays", "restdays", "holidays").map((name) => ({ kind: "class" as const, name })),
  fc.subarray([...WEEKDAYS], { minLength: 1 }).map((days) => ({ kind: "weekdays" as const, days })),
  fc.tuple(fc.integer({ min: 0, max: 360 }), fc.integer({ min: 0, max: 40 })).map(([first, length]) => {
    const day = START / 86_400 + first;
    return { kind: "dates" as const, from: formatDate(day), to: formatDate(day + length) };
  }),
);
const schedule: fc.Arbitrary<Schedule> = fc.record({
  name: fc.constant("any"),
  zone: fc.constant("UTC"),
  outside: fc.constant(asCount(0)),
  rows: fc.array(fc.record({ day: dayKey, spans, onHolidays: fc.boolean() }), { minLength: 1, maxLength: 4 }),
});

test("a printed line means the same to the opening_hours package, for 200 schedules at 1,000 instants each", () => {
  const printed: [Schedule, string][] = [];
  for (const candidate of fc.sample(schedule, { numRuns: 700, seed: 41 })) {
    const result = printLine(candidate, OSLO);
    if (result.ok && result.line !== "off") printed.push([candidate, result.line]);
  }
  // Most weeks can be said; if this falls the printer gives up too early.
  expect(printed.length).toBeGreaterThan(300);
  for (const [i, [given, line]] of printed.slice(0, 200).entries()) {
    const compiled = compileSchedule(given, OSLO);
    const theirs = reader(line);
    for (const t of fc.sample(fc.integer({ min: START, max: START + YEAR_S }), { numRuns: 1000, seed: i })) {
      const at = Math.floor(t / 60) * 60;
      expect(theirs(at), `${line} at ${new Date(at * 1000).toISOString()}`).toBe(levelAt(compiled, at).level);
    }
  }
}, 120_000);

test("what is printed reads back as the same hours, as a line and as rows", () => {
  fc.assert(
    fc.property(schedule, (given) => {
      const result = printLine(given, OSLO);
      fc.pre(result.ok);
      const rows = readLineRows(result.line);
      const line = readLine(result.line);
      if (!rows.ok || !line.ok) throw new Error(`${result.line} does not read back`);
      const levels = (compiled: ReturnType<typeof compileSchedule>) =>
        expand(compiled, START, START + YEAR_S)
          .map(({ from, level }) => ({ from, level }))
          .filter(({ level }, i, all) => level !== all[i - 1]?.level);
      const wanted = levels(compileSchedule(given, OSLO));
      expect(levels(compileSchedule({ ...given, rows: rows.rows }, OSLO))).toEqual(wanted);
      expect(levels(compileSchedule({ ...given, rows: line.rows }, OSLO, "last"))).toEqual(wanted);
      expect(printLine({ ...given, rows: rows.rows }, OSLO)).toEqual(result);
    }),
    { numRuns: 150, seed: 42 },
  );
});

const print = (rows: unknown[], more: object = {}, calendar: Calendar = PLAIN_CALENDAR) =>
  printLine(scheduleSchema.parse({ name: "s", zone: "UTC", rows, ...more }), calendar);

test("lines read as people write them", () => {
  const line = (rows: unknown[], calendar?: Calendar) => (print(rows, {}, calendar) as { line?: string }).line;
  expect(line([{ day: "workdays", spans: ["07:30-18:00"] }])).toBe("Mo-Fr 07:30-18:00; PH off");
  expect(line([{ day: "workdays", spans: ["08:00-16:00"] }], { ...PLAIN_CALENDAR, rest: ["fri", "sat"] })).toBe(
    "Mo-Th,Su 08:00-16:00; PH off",
  );
  expect(line([{ day: "daily", spans: ["08:00-18:00"] }])).toBe("08:00-18:00");
  expect(line([{ day: ["mon", "tue"], spans: ["06:30-19:00", "19:00-23:30 x12"], holidays: "too" }])).toBe(
    'Mo,Tu 06:30-19:00, Mo,Tu 19:00-23:30 "12"',
  );
  expect(
    line([
      { day: ["fri", "sat"], spans: ["22:00-02:00"], holidays: "too" },
      { day: "2027-12-30..2028-01-02", off: true },
      { day: "2027-05-17", spans: ["10:00-12:00"] },
    ]),
  ).toBe("Fr,Sa 22:00-02:00; 2027 Dec 30-2028 Jan 02 off; 2027 May 17 10:00-12:00");
  expect(
    line([
      { day: "mon", spans: ["10:00-12:00"], holidays: "too" },
      { day: "2027-12-30..2028-01-02", off: true },
      { day: "2027-05-17..2027-05-18", spans: ["10:00-12:00 x3"] },
    ]),
  ).toBe('Mo 10:00-12:00; 2027 Dec 30-2028 Jan 02 off; 2027 May 17-2027 May 18 10:00-12:00 "3"');
  expect(line([{ day: "sat", off: true }])).toBe("off");
});

test("what no line can say is refused with the row that is the reason", () => {
  expect(print([{ day: "daily", spans: ["08:00-18:00"] }], { outside: "leave" })).toMatchObject({ ok: false, row: null });
  expect(print([{ day: "daily", spans: ["08:00-18:00 x8"] }], { outside: 2 })).toMatchObject({
    ok: false,
    why: expect.stringContaining("level 2"),
  });
  expect(print([{ day: "workdays", spans: ["22:00-06:00"] }])).toMatchObject({ ok: false, row: 0, label: "workdays" });
});

test("a weekday rule counts on holidays unless a later PH rule speaks", () => {
  const level = (text: string, at: string) => {
    const line = readLine(text);
    if (!line.ok) throw new Error(line.error.message);
    const compiled = compileSchedule({ name: "l", zone: "UTC", outside: asCount(0), rows: line.rows }, OSLO, "last");
    return levelAt(compiled, tryParseInstant(at) as number).level;
  };
  const goodFriday = "2027-03-26T10:00:00Z";
  expect(level("Mo-Fr 08:00-18:00", goodFriday)).toBe(1);
  expect(level("Mo-Fr 08:00-18:00; PH off", goodFriday)).toBe(0);
  expect(level("PH off; Mo-Fr 08:00-18:00", goodFriday)).toBe(1);
  expect(level('Mo-Fr 08:00-12:00, Fr 09:00-11:00 "3"', goodFriday)).toBe(3);
  expect(level("2027 Mar 26 off; 08:00-18:00", goodFriday)).toBe(1);
  expect(level("24/7; Sa,Su,PH off", goodFriday)).toBe(0);
});

test.each([
  ["", 0, "expected days such as Mo-Fr"],
  ["Mo-Fr", 5, "expected hours such as 08:00-18:00"],
  ["Mo-Fr 25:00-26:00", 6, '"25:00" is not a time'],
  ["Mo-Fr 8:00-18:00", 6, "write the hour with two digits, 08:00"],
  ["mo 08:00-18:00", 0, "did you mean Mo?"],
  ["Mo 08:00-", 9, "expected the time of the end"],
  ["2027 Feb 30 off", 0, "is not a date"],
  ["2027 Apr 05-2027 Apr 01 off", 0, "runs backwards"],
  ['Mo 08:00-18:00 "many"', 15, "is not a level"],
  ["Mo 08:00-18:00 Tu off", 15, "expected ; and another rule"],
  ["Mo 08:00-18:00, off", 16, "adds nothing"],
  ["PH 10:00-12:00, Mo 08:00-18:00", 16, "names the same days"],
])("%s is refused at its place", (text, at, message) => {
  expect(readLine(text)).toMatchObject({ ok: false, error: { at, message: expect.stringContaining(message) } });
});

test("a general rule after a particular one cannot be rows, and the error stands at it", () => {
  expect(readLineRows("2027 Apr 01 off; Mo-Fr 08:00-18:00")).toMatchObject({
    ok: false,
    error: { at: 17, message: "Mo-Fr comes after 2027 Apr 01 and overrides it: put the general rule first" },
  });
  // 3 April 2027 is a Saturday: nothing is overridden.
  expect(readLineRows("2027 Apr 03 off; Mo-Fr 08:00-18:00").ok).toBe(true);
});

test("the nearest right line is offered for a common slip", () => {
  expect(suggestLine("Mon-Fri 8:00-18:00")).toBe("Mo-Fr 08:00-18:00");
  expect(suggestLine("mo–fr 08.00–18.00")).toBe("Mo-Fr 08:00-18:00");
  expect(suggestLine("Mo-Fr 8-18")).toBe("Mo-Fr 08:00-18:00");
  expect(suggestLine("whenever")).toBeNull();
});

const two = (value: number) => String(value).padStart(2, "0");
const time = fc.integer({ min: 0, max: 23 }).map((hour) => `${two(hour)}:00`);
const times = fc.tuple(time, time).map(([from, to]) => `${from}-${to}`);
const body = fc.oneof(
  { weight: 3, arbitrary: fc.array(times, { minLength: 1, maxLength: 2 }).map((list) => list.join(",")) },
  { weight: 1, arbitrary: times.map((span) => `${span} "3"`) },
  { weight: 1, arbitrary: fc.constant("off") },
);
const days = fc.constantFrom(
  "Mo-Fr ",
  "Sa,Su ",
  "We ",
  "Fr-Mo ",
  "PH ",
  "PH,Sa ",
  "2027 Mar 26-2027 Mar 30 ",
  "2027 Apr 03 ",
  "",
);
const anyLine = fc
  .array(fc.tuple(days, body), { minLength: 1, maxLength: 4 })
  .map((rules) => rules.map(([day, hours]) => day + hours).join("; "));

test("any line that can be rows means the same as rows", () => {
  let asRows = 0;
  fc.assert(
    fc.property(anyLine, (text) => {
      const line = readLine(text);
      if (!line.ok) throw new Error(`${text}: ${line.error.message}`);
      const rows = readLineRows(text);
      if (!rows.ok) return;
      asRows++;
      const base = { name: "l", zone: "UTC", outside: asCount(0) };
      const one = compileSchedule({ ...base, rows: line.rows }, OSLO, "last");
      const other = compileSchedule({ ...base, rows: rows.rows }, OSLO);
      const from = Date.UTC(2027, 2, 15) / 86_400_000;
      for (let day = from; day < from + 28; day++) {
        const levels = (compiled: typeof one) =>
          Array.from({ length: 24 }, (_, hour) => levelAt(compiled, day * 86_400 + hour * 3600 + 60).level);
        expect(levels(other), `${text} on ${formatDate(day)}`).toEqual(levels(one));
      }
    }),
    { numRuns: 300, seed: 43 },
  );
  expect(asRows).toBeGreaterThan(60);
});
