import { spawnSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "vitest";

const folder = mkdtempSync(join(tmpdir(), "umbrik-cli-"));
const file = (name: string, text: string) => {
  const path = join(folder, name);
  writeFileSync(path, text);
  return path;
};
function umbrik(...args: string[]): { exit: number | null; out: unknown; err: string } {
  const { status, stdout, stderr } = spawnSync("bin/umbrik", args, { encoding: "utf8" });
  return { exit: status, out: stdout === "" ? null : JSON.parse(stdout), err: stderr };
}

const INVENTORY = file(
  "inventory.json",
  JSON.stringify({
    resources: [
      { name: "a", tags: { stage: "test" } },
      { name: "b", tags: { stage: "prod" }, accountTags: { payer: "x" } },
    ],
  }),
);

test("hours expand gives the intervals as the contract shapes them", () => {
  const { exit, out, err } = umbrik(
    "hours",
    "expand",
    "--plan",
    "demo/plan.yaml",
    "--schedule",
    "desks-santiago",
    "--from",
    "2027-04-03T00:00:00-03:00",
    "--to",
    "2027-04-05T12:00:00Z",
  );
  expect({ exit, err }).toEqual({ exit: 0, err: "" });
  expect(out).toEqual({
    schedule: "desks-santiago",
    intervals: [{ from: "2027-04-03T03:00:00Z", to: "2027-04-05T12:00:00Z", level: 0, because: "outside" }],
  });
});

test("hours line answers for a line as it does for a schedule, holidays and levels counted", () => {
  const span = ["--zone", "Europe/Oslo", "--from", "2027-03-25T00:00:00+01:00", "--to", "2027-03-30T00:00:00+02:00"];
  const { exit, out, err } = umbrik(
    "hours",
    "line",
    'Mo-Fr 08:00-18:00 "4"; PH off',
    ...span,
    "--holidays",
    "2027-03-26,2027-03-29",
  );
  expect({ exit, err }).toEqual({ exit: 0, err: "" });
  expect((out as { intervals: { level: number }[] }).intervals).toMatchObject([
    { level: 0 },
    { from: "2027-03-25T07:00:00Z", to: "2027-03-25T17:00:00Z", level: 4, because: "mon,tue,wed,thu,fri" },
    { level: 0 },
    { level: 0, because: "holidays" },
    { level: 0 },
    { level: 0, because: "holidays" },
  ]);
});

test("a line that does not read is exit 1 with the place and the nearest line; a wrong zone or date is exit 2", () => {
  const span = ["--from", "2027-03-25T00:00:00Z", "--to", "2027-03-30T00:00:00Z"];
  expect(umbrik("hours", "line", "Mon-Fri 8:00-18:00", "--zone", "UTC", ...span)).toMatchObject({
    exit: 1,
    err: expect.stringMatching(/character 1: "Mon" is not a day; did you mean Mo\?; the nearest line is "Mo-Fr 08:00-18:00"/),
  });
  expect(umbrik("hours", "line", "Mo 08:00-18:00", "--zone", "Europe/Olso", ...span).exit).toBe(2);
  expect(umbrik("hours", "line", "Mo 08:00-18:00", "--zone", "UTC", ...span, "--holidays", "soon").exit).toBe(2);
  expect(umbrik("hours", "line", ...span).exit).toBe(2);
});

test("hours ics writes the calendar text itself", () => {
  const { status, stdout } = spawnSync(
    "bin/umbrik",
    ["hours", "ics", "--plan", "demo/plan.yaml", "--schedule", "desks-santiago"],
    {
      encoding: "utf8",
    },
  );
  expect(status).toBe(0);
  expect(stdout).toMatch(/^BEGIN:VCALENDAR\r\n[\s\S]*TZID:America\/Santiago[\s\S]*BYDAY=MO,TU,WE,TH;[\s\S]*END:VCALENDAR\r\n$/);
});

test("hours that are lived in each machine's own zone are asked for with one", () => {
  const schedules = [{ name: "day", zone: "local", rows: [{ day: "daily", spans: ["08:00-18:00"] }] }];
  const fleets = [{ name: "all", select: "kind = machine", hours: "day" }];
  const plan = file("local.json", JSON.stringify({ umbrik: 1, schedules, fleets }));
  const asked = ["hours", "next", "--plan", plan, "--schedule", "day", "--at", "2027-03-16T00:00:00Z", "--count", "1"];
  expect(umbrik(...asked)).toMatchObject({ exit: 2, err: expect.stringContaining("--zone Europe/Oslo") });
  const next = (zone: string) => (umbrik(...asked, "--zone", zone).out as { edges: { at: string }[] }).edges[0]?.at;
  expect([next("Europe/Oslo"), next("Asia/Kathmandu")]).toEqual(["2027-03-16T07:00:00Z", "2027-03-16T02:15:00Z"]);
  expect(umbrik(...asked, "--zone", "Europe/Osloo")).toMatchObject({ exit: 2, err: expect.stringContaining("not a time zone") });
  const prices = file("local-prices.json", JSON.stringify({ prices: [{ compute: "1" }] }));
  const machines = file("local-machines.json", JSON.stringify({ resources: [{ name: "m", kind: "machine" }] }));
  const span = ["--from", "2027-03-16T00:00:00Z", "--to", "2027-03-17T00:00:00Z"];
  const project = ["project", "--plan", plan, "--inventory", machines, "--prices", prices, ...span];
  expect(umbrik(...project).exit).toBe(2);
  expect(umbrik(...project, "--zone", "Europe/Oslo").out).toMatchObject({ all: { projected: "10.000000" } });
});

test("hours next and explain answer for a clock change", () => {
  const next = umbrik(
    "hours",
    "next",
    "--plan",
    "demo/plan.yaml",
    "--schedule",
    "desks-santiago",
    "--at",
    "2027-04-02T22:00:00Z",
    "--count",
    "2",
  );
  expect(next.out).toEqual({
    edges: [
      { at: "2027-04-05T12:00:00Z", from: 0, to: 1, because: "workdays" },
      { at: "2027-04-05T23:00:00Z", from: 1, to: 0, because: "outside" },
    ],
  });
  const explained = umbrik(
    "hours",
    "explain",
    "--plan",
    "demo/plan.yaml",
    "--schedule",
    "archive-cores",
    "--at",
    "2027-03-26T19:30:00Z",
  );
  expect(explained.out).toMatchObject({ level: 2, local: "2027-03-26T20:30:00+01:00", because: "restdays" });
});

test("select gives names and warnings, and a warning never changes the exit", () => {
  expect(umbrik("select", "--inventory", INVENTORY, "--selector", "has payer")).toEqual({
    exit: 0,
    out: { matches: ["b"], warnings: [] },
    err: "",
  });
  expect(umbrik("select", "--inventory", INVENTORY, "--selector", "stage = tset")).toMatchObject({
    exit: 0,
    out: { matches: [], warnings: [{ clause: "stage = tset", at: 0, nearest: "test", count: 1 }] },
  });
});

test("price run bills whole granules and gives exact decimals", () => {
  const run = ["price", "run", "--rate", "0.42", "--granularity", "60", "--minimum", "60", "--from", "2027-03-11T05:00:00Z"];
  expect(umbrik(...run, "--to", "2027-03-11T05:01:01Z")).toEqual({
    exit: 0,
    out: { billedSeconds: 120, cost: "0.014000" },
    err: "",
  });
  expect(umbrik(...run, "--to", "2027-03-11T06:00:00Z", "--level", "3").out).toEqual({ billedSeconds: 3600, cost: "1.260000" });
});

test.each([
  [["hours", "expnd"], "unknown command"],
  [[], "a command is missing"],
  [["hours", "expand", "--plan", "demo/plan.yaml"], "--schedule is missing"],
  [["price", "run", "--rat", "1"], "did you mean --rate"],
  [
    [
      "price",
      "run",
      "--rate",
      "1e3",
      "--granularity",
      "1",
      "--minimum",
      "0",
      "--from",
      "2027-03-11T05:00:00Z",
      "--to",
      "2027-03-11T06:00:00Z",
    ],
    "1e3",
  ],
  [
    [
      "price",
      "run",
      "--rate",
      "1",
      "--granularity",
      "0",
      "--minimum",
      "0",
      "--from",
      "2027-03-11T05:00:00Z",
      "--to",
      "2027-03-11T06:00:00Z",
    ],
    "--granularity",
  ],
  [
    [
      "price",
      "run",
      "--rate",
      "1",
      "--granularity",
      "1",
      "--minimum",
      "0",
      "--from",
      "2027-03-11T05:00:00Z",
      "--to",
      "2027-03-11T05:00:00Z",
    ],
    "is not after",
  ],
  [
    [
      "price",
      "run",
      "--rate",
      "1",
      "--granularity",
      "1",
      "--minimum",
      "0",
      "--from",
      "2027-03-11",
      "--to",
      "2027-03-11T05:00:00Z",
    ],
    "not an instant",
  ],
  [["select", "--inventory", INVENTORY, "--selector", "stage = "], "character 9"],
  [["select", "--inventory", "nowhere.json", "--selector", "has stage"], "no such file"],
  [["select", "--inventory", INVENTORY, "--selector", "has stage", "--selector", "has x"], "twice"],
])("wrong use %o exits with 2 and says %s", (args, part) => {
  const { exit, out, err } = umbrik(...args);
  expect({ exit, out }).toEqual({ exit: 2, out: null });
  expect(err).toContain(part);
});

test("data that allows no answer exits with 1, with file, line and column", () => {
  const broken = file(
    "broken.yaml",
    'umbrik: 1\nschedules:\n  - name: a\n    zone: Europe/Osloo\n    rows: [{ day: mon, spans: ["25:00-26:00"] }]\n',
  );
  const { exit, out, err } = umbrik(
    "hours",
    "expand",
    "--plan",
    broken,
    "--schedule",
    "a",
    "--from",
    "2027-03-11T05:00:00Z",
    "--to",
    "2027-03-12T05:00:00Z",
  );
  expect({ exit, out }).toEqual({ exit: 1, out: null });
  expect(
    err
      .trim()
      .split("\n")
      .map((line) => line.replace(/^umbrik: .*broken\.yaml:/, "")),
  ).toEqual([expect.stringMatching(/^4:11: .*Europe\/Osloo/), expect.stringMatching(/^5:32: .*25:00/)]);
  const missing = umbrik(
    "hours",
    "next",
    "--plan",
    "demo/plan.yaml",
    "--schedule",
    "desks-santigo",
    "--at",
    "2027-03-11T05:00:00Z",
    "--count",
    "1",
  );
  expect(missing).toMatchObject({ exit: 1, err: expect.stringContaining('did you mean "desks-santiago"') });
});

const PROJECTED = file(
  "projected.json",
  JSON.stringify({
    resources: [
      { name: "index", kind: "service", region: "fjord-1", tags: { team: "archive" }, level: 6 },
      { name: "desk", kind: "machine", region: "cordillera-1", size: "lantern-8", tags: { team: "draughting" } },
      { name: "stranger", kind: "machine", region: "fjord-1", tags: { team: "tides" } },
    ],
  }),
);
const PRICES = file(
  "prices.json",
  JSON.stringify({
    prices: [
      { region: "fjord-1", compute: "0.2", licencePerCore: "0.4", minimumCores: 4 },
      { region: "cordillera-1", size: "lantern-8", compute: "1.1", granularity: 3600 },
    ],
  }),
);
const span = ["--from", "2027-03-15T00:00:00Z", "--to", "2027-03-17T00:00:00Z"];

test("project prices a plan over a span: levels by the hour, lead and rounding in, what no fleet has in no sum", () => {
  const args = ["project", "--plan", "demo/plan.yaml", "--inventory", PROJECTED, "--prices", PRICES, ...span];
  const { exit, out, err } = umbrik(...args);
  expect({ exit, err }).toEqual({ exit: 0, err: "" });
  const { fleets, all } = out as { fleets: { name: string; resources: number }[]; all: unknown };
  // 43.5 hours at six cores and 4.5 at twelve, 0.6 a core.
  expect(fleets.find(({ name }) => name === "archive-index")).toEqual({
    name: "archive-index",
    resources: 1,
    alwaysOn: "172.800000",
    projected: "189.000000",
    levers: [{ lever: "hours", saves: "-16.200000" }],
  });
  // Two days from ten to eight until seven: eleven hours and ten minutes, billed as twelve.
  expect(fleets.find(({ name }) => name === "draughting-santiago")).toMatchObject({
    alwaysOn: "52.800000",
    projected: "26.400000",
    levers: [{ lever: "hours", saves: "26.400000" }],
  });
  expect(all).toMatchObject({ resources: 2, alwaysOn: "225.600000", projected: "215.400000" });
});

test("project names what it has no price for, and ends with 1; a flag that is missing is wrong use", () => {
  const none = file("no-prices.json", JSON.stringify({ prices: [{ region: "fjord-1", compute: "1" }] }));
  const { exit, out, err } = umbrik("project", "--plan", "demo/plan.yaml", "--inventory", PROJECTED, "--prices", none, ...span);
  expect({ exit, out }).toEqual({ exit: 1, out: null });
  expect(err).toContain('resource 2, "desk"');
  expect(umbrik("project", "--plan", "demo/plan.yaml", ...span).exit).toBe(2);
});

const RULE = {
  match: "all",
  conditions: [{ metric: "cpu", statistic: "mean", op: "<", threshold: 2, window: 10 }],
  step: 5,
  warn: 5,
};
const rule = (name: string, more: object = {}) => file(name, JSON.stringify({ ...RULE, ...more }));
const CPU = file(
  "cpu.csv",
  [
    "time,cpu",
    ...[0, 1, 0, 1, 9, 0, 0, 0].map((cpu, i) => `2027-03-11T08:${String(5 * (i + 1)).padStart(2, "0")}:00Z,${cpu}`),
  ].join("\n"),
);

test("idle replay says when it would have tripped, how long it was off, and whom that cut off", () => {
  const { exit, out, err } = umbrik("idle", "replay", "--rule", rule("rule.json"), "--samples", CPU);
  expect({ exit, err }).toEqual({ exit: 0, err: "" });
  expect(out).toEqual({
    trips: [
      { warnedAt: "2027-03-11T08:10:00Z", trippedAt: "2027-03-11T08:15:00Z", backAt: "2027-03-11T08:25:00Z", interruption: true },
      { warnedAt: "2027-03-11T08:35:00Z", trippedAt: "2027-03-11T08:40:00Z", backAt: null, interruption: false },
    ],
    offHours: 10 / 60,
    offHoursDue: 10 / 60,
    interruptions: 1,
  });
});

test("after hours, what is on outside them counts for nothing, and their rise is a start that is left alone for its settle", () => {
  const nights = file(
    "nights.csv",
    [
      "time,cpu",
      ...Array.from(
        { length: 48 },
        (_, i) => `2027-03-11T${String(6 + Math.floor(i / 12)).padStart(2, "0")}:${String((i % 12) * 5).padStart(2, "0")}:00Z,0`,
      ),
    ].join("\n"),
  );
  const plan = file(
    "after.yaml",
    "umbrik: 1\nschedules:\n  - name: s\n    zone: UTC\n    rows: [{ day: daily, spans: ['08:00-09:00'] }]\n",
  );
  const run = (...more: string[]) =>
    umbrik(
      "idle",
      "replay",
      "--rule",
      rule("after.json", { settle: 15 }),
      "--samples",
      nights,
      "--plan",
      plan,
      "--schedule",
      "s",
      ...more,
    );
  // Idle all night it trips in the morning, and hours bring it back; after hours it is off until then.
  expect(run().out).toMatchObject({ trips: [{ trippedAt: "2027-03-11T06:15:00Z" }, { trippedAt: "2027-03-11T08:20:00Z" }] });
  expect(run("--after-hours")).toEqual({
    exit: 0,
    err: "",
    out: {
      trips: [{ warnedAt: "2027-03-11T08:15:00Z", trippedAt: "2027-03-11T08:20:00Z", backAt: null, interruption: false }],
      offHours: 40 / 60,
      offHoursDue: 40 / 60,
      interruptions: 0,
    },
  });
  expect(run("--after-hours=yes")).toMatchObject({ exit: 2, out: null });
});

test("idle sweep tries each threshold and window in the order given, and suggests the best that is allowed", () => {
  const { exit, out, err } = umbrik(
    ...[
      "idle",
      "sweep",
      "--rule",
      rule("rule.json"),
      "--samples",
      CPU,
      "--thresholds",
      "2,10",
      "--windows",
      "10,5",
      "--rate",
      "0.6",
    ],
    ...["--interruptions-per-week", "0"],
  );
  expect({ exit, err }).toEqual({ exit: 0, err: "" });
  const { points, ...rest } = out as { points: { threshold: number; window: number; trips: number; saved: string }[] };
  expect(rest).toEqual({ condition: 1, weeks: 40 / (7 * 24 * 60), suggested: { threshold: 10, window: 5 } });
  expect(points.map(({ threshold, window, trips, saved }) => [threshold, window, trips, saved])).toEqual([
    [2, 10, 2, "0.100000"],
    [2, 5, 2, "0.200000"],
    [10, 10, 1, "0.250000"],
    [10, 5, 1, "0.300000"],
  ]);
});

test.each([
  ["a rule without a step", { step: undefined }, CPU, [], 1, "step is missing"],
  ["a window that is no multiple", { step: 3 }, CPU, [], 1, "a window of 10 min is no whole multiple of the step of 3 min"],
  ["a threshold that is no number", { conditions: [{ ...RULE.conditions[0], threshold: null }] }, CPU, [], 1, "threshold"],
  ["an action that nobody knows", { action: "explode" }, CPU, [], 1, "action"],
  [
    "a metric that is no column",
    { conditions: [{ ...RULE.conditions[0], metric: "cqu" }] },
    CPU,
    [],
    1,
    'no column is named so; there is "cpu"',
  ],
  ["hours asked for and not given", { applies: "inside" }, CPU, [], 2, "say which with --plan and --schedule"],
  [
    "a value that is no number",
    {},
    file("nan.csv", "time,cpu\n2027-03-11T08:05:00Z,NaN"),
    [],
    1,
    'nan.csv:2: cpu: "NaN" is no finite number',
  ],
  ["a row that is too short", {}, file("short.csv", "time,cpu\n2027-03-11T08:05:00Z"), [], 1, "expected 2 cells, there are 1"],
  ["no sample at all", {}, file("none.csv", "time,cpu\n"), [], 1, "there is no sample in it"],
  ["an unknown flag", {}, CPU, ["--rates", "1"], 2, "unknown flag --rates"],
])("idle replay refuses %s", (_, more, samples, flags, exit, said) => {
  const answer = umbrik("idle", "replay", "--rule", rule("bad.json", more), "--samples", samples, ...flags);
  expect(answer).toMatchObject({ exit, out: null });
  expect(answer.err).toContain(said);
});
