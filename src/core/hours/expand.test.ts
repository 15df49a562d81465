import fc from "fast-check";
import { Temporal } from "temporal-polyfill";
import { expect, test } from "vitest";
import { formatDate, tryParseInstant, WEEKDAYS } from "../time";
import { compileSchedule } from "./compile";
import { expand, levelAt } from "./expand";
import { asCount, asLevel, type HoursLevel, ON } from "./level";
import type { Calendar, Row, Schedule } from "./schedule";
import type { Span } from "./span";

const ZONES = [
  "Europe/Oslo",
  "America/Santiago",
  "Australia/Lord_Howe",
  "Pacific/Apia",
  "Asia/Kathmandu",
  "Antarctica/Troll",
  "Pacific/Auckland",
  "Africa/Casablanca",
  "UTC",
];

/** Where something odd happens to clocks: each is followed by a fortnight that is looked at. */
const STARTS = [
  "2011-12-22T00:00:00Z", // Apia skips 30 December
  "2027-03-20T00:00:00Z", // Oslo and Troll spring forward
  "2027-03-29T00:00:00Z", // Santiago, Auckland and Lord Howe fall back
  "2027-08-30T00:00:00Z", // Santiago springs forward at midnight
  "2027-09-25T00:00:00Z",
  "2027-10-25T00:00:00Z",
].map((text) => tryParseInstant(text) as number);

const spans = fc.array(
  fc
    .tuple(fc.integer({ min: 0, max: 1439 }), fc.integer({ min: 1, max: 1440 }), fc.integer({ min: 0, max: 5 }))
    .map(([start, length, level]): Span => ({ start, end: start + length, level: level === 5 ? ON : asCount(level) })),
  { minLength: 1, maxLength: 3 },
);
const dayKey: fc.Arbitrary<Row["day"]> = fc.oneof(
  fc.constantFrom("daily", "workdays", "restdays", "holidays").map((name) => ({ kind: "class" as const, name })),
  fc.subarray([...WEEKDAYS], { minLength: 1 }).map((days) => ({ kind: "weekdays" as const, days })),
  fc
    .tuple(fc.integer({ min: 0, max: 13 }), fc.integer({ min: 0, max: 2 }), fc.constantFrom(...STARTS))
    .map(([first, length, start]) => {
      const day = Math.floor(start / 86_400) + first;
      return { kind: "dates" as const, from: formatDate(day), to: formatDate(day + length) };
    }),
);
const row: fc.Arbitrary<Row> = fc.record({
  day: dayKey,
  spans: fc.oneof({ weight: 5, arbitrary: spans }, { weight: 1, arbitrary: fc.constant("off" as const) }),
  onHolidays: fc.boolean(),
});
const schedule: fc.Arbitrary<Schedule> = fc.record({
  name: fc.constant("any"),
  zone: fc.constantFrom(...ZONES),
  outside: fc.constantFrom<HoursLevel | null>(asCount(0), asCount(2), null),
  rows: fc.array(row, { maxLength: 5 }),
});
const calendar: fc.Arbitrary<Calendar> = fc.record({
  name: fc.constant("any"),
  rest: fc.subarray([...WEEKDAYS]),
  holidays: fc.array(
    fc
      .tuple(fc.constantFrom(...STARTS), fc.integer({ min: 0, max: 13 }))
      .map(([start, day]) => formatDate(Math.floor(start / 86_400) + day)),
    { maxLength: 3 },
  ),
});

/** The rule of the model as it is written, one instant at a time, with no table and no shortcut. */
function slowLevel({ zone, outside, rows }: Schedule, { rest, holidays }: Calendar, t: number): number | null {
  const local = Temporal.Instant.fromEpochMilliseconds(t * 1000).toZonedDateTimeISO(zone);
  const today = local.toPlainDate();
  const minute = local.hour * 60 + local.minute;
  const speaking = (date: Temporal.PlainDate): Row | undefined => {
    const weekday = WEEKDAYS[date.dayOfWeek - 1] as (typeof WEEKDAYS)[number];
    const isHoliday = holidays.includes(date.toString());
    const isRest = isHoliday || rest.includes(weekday);
    const rank = ({ day, onHolidays }: Row): number => {
      if (day.kind === "dates") return day.from <= date.toString() && date.toString() <= day.to ? 5 : 0;
      if (day.kind === "weekdays") return day.days.includes(weekday) && (onHolidays || !isHoliday) ? 3 : 0;
      const ranks = { daily: 1, workdays: isRest ? 0 : 2, restdays: isRest ? 2 : 0, holidays: isHoliday ? 4 : 0 };
      return ranks[day.name];
    };
    const best = Math.max(0, ...rows.map(rank));
    return best === 0 ? undefined : rows.findLast((candidate) => rank(candidate) === best);
  };
  let level = outside;
  const before = speaking(today.subtract({ days: 1 }));
  for (const span of before && before.spans !== "off" ? before.spans : []) if (minute < span.end - 1440) level = span.level;
  const own = speaking(today);
  if (own?.spans === "off") level = asCount(0);
  else for (const span of own?.spans ?? []) if (minute >= span.start && minute < span.end) level = span.level;
  return level === ON ? SIZE : level;
}

/** What on means in these tests; a count may come to the same. */
const SIZE = asLevel(3);

test("expand agrees with the written rule at every quarter of an hour, in every zone, over every clock change", () => {
  fc.assert(
    fc.property(schedule, calendar, fc.constantFrom(...STARTS), fc.integer({ min: 0, max: 899 }), (given, days, start, shift) => {
      const compiled = compileSchedule(given, days);
      const from = start + shift;
      const to = from + 14 * 86_400;
      const intervals = expand(compiled, from, to, SIZE);
      let i = 0;
      for (let t = from; t < to; t += 900) {
        while ((intervals[i]?.to ?? Number.POSITIVE_INFINITY) <= t) i++;
        const level = slowLevel(given, days, t);
        expect(intervals[i]?.level, `${given.zone} at ${t}`).toBe(level);
        expect(levelAt(compiled, t, SIZE).level).toBe(level);
      }
    }),
    { numRuns: 60, seed: 31 },
  );
});

test("intervals tile the span, and equal neighbours with the same reason are one", () => {
  fc.assert(
    fc.property(schedule, calendar, fc.constantFrom(...STARTS), (given, days, start) => {
      const intervals = expand(compileSchedule(given, days), start, start + 20 * 86_400);
      expect(intervals[0]?.from).toBe(start);
      expect(intervals.at(-1)?.to).toBe(start + 20 * 86_400);
      intervals.slice(1).forEach((interval, i) => {
        const before = intervals[i] as (typeof intervals)[number];
        expect(interval.from).toBe(before.to);
        expect(interval.level === before.level && interval.because === before.because).toBe(false);
      });
    }),
    { numRuns: 100, seed: 32 },
  );
});

const at = (text: string) => tryParseInstant(text) as number;
const week = (zone: string, from: number, to: number): Schedule => ({
  name: "week",
  zone,
  outside: asCount(0),
  rows: [{ day: { kind: "class", name: "daily" }, spans: [{ start: from, end: to, level: asCount(1) }], onHolidays: false }],
});

test("office hours stay at the same wall-clock time when Oslo springs forward", () => {
  const on = expand(
    compileSchedule(week("Europe/Oslo", 450, 1080)),
    at("2027-03-27T00:00:00Z"),
    at("2027-03-29T00:00:00Z"),
  ).filter(({ level }) => level === 1);
  expect(on.map(({ from }) => from)).toEqual([at("2027-03-27T06:30:00Z"), at("2027-03-28T05:30:00Z")]);
});

test("a skipped hour never applies and a repeated one applies twice", () => {
  const spring = expand(compileSchedule(week("Europe/Oslo", 120, 180)), at("2027-03-28T00:00:00Z"), at("2027-03-28T12:00:00Z"));
  expect(spring).toHaveLength(1);
  const autumn = expand(compileSchedule(week("Europe/Oslo", 120, 180)), at("2027-10-31T00:00:00Z"), at("2027-10-31T12:00:00Z"));
  expect(autumn.filter(({ level }) => level === 1).map(({ from, to }) => to - from)).toEqual([7200]);
});

test("the tail of a day that Apia skipped still counts on the next one", () => {
  const given: Schedule = {
    ...week("Pacific/Apia", 0, 1),
    rows: [
      {
        day: { kind: "dates", from: "2011-12-30", to: "2011-12-30" },
        spans: [{ start: 1320, end: 1560, level: asCount(1) }],
        onHolidays: false,
      },
    ],
  };
  const [on] = expand(compileSchedule(given), at("2011-12-28T00:00:00Z"), at("2012-01-02T00:00:00Z")).filter(
    ({ level }) => level === 1,
  );
  expect(on).toMatchObject({ from: at("2011-12-30T10:00:00Z"), to: at("2011-12-30T12:00:00Z") });
});
