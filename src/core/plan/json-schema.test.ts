import { readFileSync } from "node:fs";
import Ajv from "ajv/dist/2020";
import fc from "fast-check";
import { expect, test } from "vitest";
import { parse } from "yaml";
import { planFileSchema } from "./file";
import { planJsonSchema } from "./json-schema";

const published = new Ajv({ strict: false, logger: false }).compile(planJsonSchema() as object);
const row = (given: object) => ({ umbrik: 1, schedules: [{ name: "week", zone: "UTC", rows: [given] }] });
const pool = (given: object) => ({
  ...row({ day: "daily", off: true }),
  fleets: [
    {
      name: "tiles",
      select: "kind = group",
      mix: { wanted: 2, firm: 1, firmPrice: 1, eviction: "drop", order: "even", pools: [{ name: "a b", ...given }] },
    },
  ],
});
const isTaken = (file: unknown) => planFileSchema.safeParse(file).success;

test("the published JSON Schema is the one that plan files are checked against", () => {
  expect(JSON.parse(readFileSync("docs/plan.schema.json", "utf8"))).toEqual(planJsonSchema());
});

test("what the command refuses for its form the published schema refuses, too", () => {
  const wrong = [
    row({ day: "monday", off: true }),
    row({ day: "2027-13-01", off: true }),
    row({ day: "2027-01-01..", off: true }),
    row({ day: ["mon", "daily"], off: true }),
    row({ day: "daily", spans: ["8:00-18:00"] }),
    row({ day: "daily", spans: ["08:00-25:00"] }),
    row({ day: "daily", spans: ["24:00-06:00"] }),
    row({ day: "daily", spans: ["08:00-18:60"] }),
    row({ day: "daily", spans: ["08:00-18:00 x"] }),
    row({ day: "daily" }),
    row({ day: "daily", off: true, spans: ["08:00-18:00"] }),
    { ...row({ day: "daily", off: true }), calendars: [{ name: "home", holidays: ["1 May"] }] },
    { ...row({ day: "daily", off: true }), calendars: [{ name: "  " }] },
    { umbrik: 1, schedules: [{ name: "week", zone: "Fjord Time", rows: [] }] },
    pool({}),
    pool({ price: 1, priceSeries: [1] }),
  ];
  for (const file of wrong) {
    expect(isTaken(file), JSON.stringify(file)).toBe(false);
    expect(published(file), JSON.stringify(file)).toBe(false);
  }
  expect([pool({ price: 1 }), row({ day: ["mon"], spans: ["22:00-06:00 x4"] })].map((file) => published(file))).toEqual([
    true,
    true,
  ]);
});

test("what the command takes the published schema takes, whatever the texts", () => {
  const two = fc.integer({ min: 0, max: 61 }).map((n) => String(n).padStart(2, "0"));
  const time = fc.tuple(two, two).map((parts) => parts.join(":"));
  const span = fc.tuple(time, time, fc.constantFrom("", " x3", " x0", "x3")).map(([from, to, level]) => `${from}-${to}${level}`);
  const date = fc.tuple(fc.constantFrom("2027", "0400"), two, two).map((parts) => parts.join("-"));
  const day = fc.oneof(
    fc.constantFrom("daily", "mon", "workdays", "too"),
    date,
    fc.tuple(date, date).map((ends) => ends.join("..")),
  );
  let taken = 0;
  fc.assert(
    fc.property(day, span, (one, other) => {
      const file = row({ day: one, spans: [other] });
      if (!isTaken(file)) return;
      taken++;
      expect(published(file), JSON.stringify(file)).toBe(true);
    }),
    { numRuns: 3_000 },
  );
  expect(taken).toBeGreaterThan(100);
  expect(published(parse(readFileSync("demo/plan.yaml", "utf8")))).toBe(true);
});
