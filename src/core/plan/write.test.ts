import { readFileSync } from "node:fs";
import fc from "fast-check";
import { expect, test } from "vitest";
import { parse } from "yaml";
import { formatDate, WEEKDAYS } from "../time";
import { type PlanFile, planFileSchema } from "./file";
import { parsePlanFile } from "./parse";
import { planToText } from "./write";

const word = fc.constantFrom("desks", "night shift", "ærlig", "yes", "0x1", "a: b", "# c", "2027-01-01", "null");
const span = fc
  .tuple(fc.integer({ min: 0, max: 23 }), fc.integer({ min: 1, max: 24 }), fc.constantFrom("", " x3", " x0"))
  .map(([from, to, level]) => `${String(from).padStart(2, "0")}:15-${String(to === 24 ? 0 : to).padStart(2, "0")}:30${level}`);
const date = fc.integer({ min: 20_000, max: 25_000 }).map(formatDate);
const row = fc.oneof(
  fc.record({
    day: fc.constantFrom("daily", "workdays", "restdays", "holidays", "mon"),
    spans: fc.array(span, { minLength: 1, maxLength: 3 }),
  }),
  fc.record({
    day: fc.subarray([...WEEKDAYS], { minLength: 1 }),
    spans: fc.array(span, { minLength: 1 }),
    holidays: fc.constant("too"),
  }),
  fc.record({ day: date, off: fc.constant(true) }),
);
const plan = fc
  .record({
    umbrik: fc.constant(1),
    currency: fc.constantFrom("EUR", "NZD"),
    calendars: fc.uniqueArray(fc.record({ name: word, rest: fc.subarray([...WEEKDAYS]), holidays: fc.array(date) }), {
      selector: ({ name }) => name,
    }),
    schedules: fc.uniqueArray(
      fc.record({
        name: word,
        zone: fc.constantFrom("Europe/Oslo", "UTC"),
        outside: fc.constantFrom("off", "leave", 2),
        rows: fc.array(row, { maxLength: 4 }),
      }),
      { selector: ({ name }) => name },
    ),
    fleets: fc.uniqueArray(
      fc.record(
        {
          name: word,
          select: fc.constantFrom("team = a", 'name = "b c" and not has d'),
          hours: fc.constant({ fromTag: "hours" }),
          lead: fc.integer({ min: 0, max: 60 }),
          offAction: fc.constantFrom("stop", "hibernate", "drop"),
          starts: fc.constantFrom("plan", "hand"),
          enforce: fc.constantFrom("always", "edges"),
          idle: fc.constant([
            { match: "all", conditions: [{ metric: "cpu", statistic: "p95", op: "<", threshold: 3.5, window: 60 }], settle: 5 },
          ]),
        },
        { requiredKeys: ["name", "select"] },
      ),
      { selector: ({ name }) => name },
    ),
  })
  .map((file): PlanFile => planFileSchema.parse(file));

test("a plan written as YAML or JSON reads back as the same plan", () => {
  fc.assert(
    fc.property(plan, fc.constantFrom("yaml" as const, "json" as const), (given, format) => {
      expect(parsePlanFile(planToText(given, format))).toEqual({ ok: true, value: given });
    }),
    { numRuns: 200, seed: 61 },
  );
});

test("a reader of the older YAML, to which off and yes are no words, reads the same plan", () => {
  fc.assert(
    fc.property(plan, (given) => {
      const text = planToText(given, "yaml");
      expect(parse(text, { version: "1.1" })).toEqual(parse(text));
    }),
    { numRuns: 100 },
  );
});

test("the demo's plan file survives being read, written and read", () => {
  const first = parsePlanFile(readFileSync("demo/plan.yaml", "utf8"));
  if (!first.ok) throw new Error("the demo's plan does not read");
  expect(parsePlanFile(planToText(first.value, "yaml"))).toEqual(first);
});
