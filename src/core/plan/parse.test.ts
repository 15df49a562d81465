import { readFileSync } from "node:fs";
import { expect, test } from "vitest";
import { within } from "../../../tests/support/patience";
import { parsePlanFile } from ".";

const issues = (text: string) => {
  const result = parsePlanFile(text);
  return result.ok ? [] : result.issues.map(({ line, column, message }) => `${line}:${column} ${message}`);
};

test("the demo's plan file reads, with what was left out filled in", () => {
  const result = parsePlanFile(readFileSync("demo/plan.yaml", "utf8"));
  expect(result.ok && result.value.fleets.find(({ name }) => name === "training")).toMatchObject({
    name: "training",
    hours: { fromTag: "hours" },
    lead: 15,
    offAction: "stop",
    enforce: "always",
  });
});

test("JSON is read as well as YAML", () => {
  expect(parsePlanFile('{"umbrik": 1, "schedules": [{"name": "a", "zone": "UTC", "rows": []}]}').ok).toBe(true);
});

test("every issue is told at once, where it stands", () => {
  const text = [
    "umbrik: 2",
    "schedules:",
    "  - name: a",
    "    zone: Europe/Osloo",
    "    rows:",
    '      - { day: mon, spans: ["08:00-18:00", "25:00-26:00"] }',
    "      - { day: mon, spns: [] }",
    "  - { name: a, zone: UTC, rows: [] }",
  ].join("\n");
  expect(issues(text)).toEqual([
    "1:9 expected 1, the version of the plan file",
    '4:11 "Europe/Osloo" is not a time zone: expected a name such as Europe/Oslo, or local',
    '6:44 25:00 in "25:00-26:00" is not a time a span can start at: expected 00:00 to 23:59',
    "7:9 a row has either `off: true` or at least one span",
    '7:21 unknown key "spns"; the nearest known key is "spans"',
  ]);
});

test("names that point nowhere and names that stand twice are issues", () => {
  const text = [
    "umbrik: 1",
    "schedules:",
    "  - { name: a, zone: UTC, calendar: nowhere, rows: [] }",
    "  - { name: a, zone: UTC, rows: [] }",
    "fleets:",
    "  - { name: f, select: team = x, hours: b }",
  ].join("\n");
  expect(issues(text)).toEqual([
    '3:37 no calendar is named "nowhere"',
    '4:13 "a" is there twice',
    '6:41 no schedule is named "b"',
  ]);
});

test("a selector that does not parse is an issue at its place", () => {
  expect(issues('umbrik: 1\nschedules: []\nfleets:\n  - name: f\n    select: "team = "\n')).toEqual([
    '5:13 "team = ": character 8: expected a value, found the end of the text',
  ]);
});

test("broken YAML, doubled keys and a bomb of aliases are refused with a place", () => {
  expect(issues("umbrik: [1")[0]).toMatch(/^1:1[01] /);
  expect(issues("umbrik: 1\numbrik: 1\nschedules: []")[0]).toContain("2:1");
  const bomb = [
    "a: &a [x,x,x,x,x,x,x,x,x,x]",
    ...[..."bcdefgh"].map((name, i) => `${name}: &${name} [${Array(10).fill(`*${"abcdefg"[i]}`).join(",")}]`),
  ].join("\n");
  expect(issues(bomb)).toHaveLength(1);
  expect(issues("")).not.toEqual([]);
});

test("the contract's idle rule and mix are understood and kept", () => {
  const result = parsePlanFile(
    JSON.stringify({
      umbrik: 1,
      schedules: [],
      fleets: [
        {
          name: "f",
          select: "has team",
          idle: [{ match: "all", conditions: [{ metric: "cpu", statistic: "mean", op: "<", threshold: 4, window: 60 }] }],
        },
      ],
    }),
  );
  expect(result.ok && result.value.fleets[0]?.idle?.[0]).toMatchObject({ coverage: 0.9, interruptionWithin: 30 });
});

test.each([
  ["100,000 brackets", "[".repeat(100_000), "at most 60 deep"],
  ["100,000 braces", `umbrik: 1\nschedules: ${"{a: ".repeat(100_000)}`, "at most 60 deep"],
  ["a list of lists of lists", `${"- ".repeat(50_000)}x`, "at most 60 deep"],
  ["two million characters", `umbrik: 1\n# ${"x".repeat(2_000_000)}`, "at most 1000000 are read"],
])("%s are refused in no time, at their place", (_, text, expected) => {
  const began = performance.now();
  expect(issues(text)[0]).toContain(expected);
  expect(performance.now() - began).toBeLessThan(within(0.5));
});

test("eleven thousand schedules are refused by their number, and five thousand are read", () => {
  const schedules = (count: number) =>
    Array.from({ length: count }, (_, i) => `  - { name: long-${i}, zone: UTC, rows: [{ day: daily, off: true }] }`).join("\n");
  expect(issues(`umbrik: 1\nschedules:\n${schedules(11_000)}\n`)).toEqual([
    "3:3 the list has 11000 entries, and at most 5000 are read; take it in in parts",
  ]);
  const read = parsePlanFile(`umbrik: 1\nschedules:\n${schedules(5_000)}\n`);
  expect(read.ok && read.value.schedules).toHaveLength(5_000);
});

test("43 kB of keys that nobody knows are told of within a breath, the first fifty by name", () => {
  const keys = Array.from({ length: 5000 }, (_, i) => `key${i}: 1`).join("\n");
  const began = performance.now();
  const found = issues(`umbrik: 1\nschedules: []\n${keys}\n${"k".repeat(900)}: 1\n`);
  expect(performance.now() - began).toBeLessThan(within(1.5));
  expect(found).toHaveLength(51);
  expect(found).toContainEqual(expect.stringContaining("and 4951 more keys that are not known"));
});
