import { expect, test } from "vitest";
import { aFleet, aMachine, PROVIDER } from "../../../tests/support/make";
import { asLevel, compileSchedule, scheduleSchema } from "../hours";
import { tryParseInstant } from "../time";
import { DEFAULT_LIMITS, decide, type RoundInput } from ".";

const NIGHT = tryParseInstant("2027-03-11T22:00:00Z") as number;
const DAY = tryParseInstant("2027-03-11T10:00:00Z") as number;
const hours = (name: string, rows: unknown[]) => compileSchedule(scheduleSchema.parse({ name, zone: "Europe/Oslo", rows }));
const OFFICE = hours("s", [{ day: "workdays", spans: ["07:30-18:00"] }]);
const off = { state: "stopped" as const, level: asLevel(0), target: asLevel(0), runSince: null };

function round(more: Partial<RoundInput>) {
  return decide({
    now: NIGHT,
    resources: [aMachine()],
    fleets: [aFleet()],
    schedules: new Map([["s", OFFICE]]),
    holds: [],
    trips: new Map(),
    lastDue: new Map(),
    openActions: new Map(),
    capabilities: new Map([["p1", PROVIDER]]),
    unread: new Map(),
    limits: DEFAULT_LIMITS,
    roundEveryS: 60,
    ...more,
  });
}
const first = (more: Partial<RoundInput>) => round(more)[0] as ReturnType<typeof round>[number];

test("a machine running at night is stopped, and the chain says why", () => {
  const decision = first({});
  expect(decision).toMatchObject({ verdict: "act", due: 0, fleet: "f", action: { verb: "stop", level: 0 } });
  expect(decision.chain.map(({ rule, applies }) => [rule, applies])).toEqual([
    ["guard", false],
    ["hold on the resource", false],
    ["hold on the fleet", false],
    ["idle trip", false],
    ["hours", true],
  ]);
});

test("a stopped machine is started by day, with the lead before the hour", () => {
  expect(first({ now: DAY, resources: [aMachine(off)] })).toMatchObject({ verdict: "act", action: { verb: "start" } });
  const early = tryParseInstant("2027-03-11T07:20:00+01:00") as number;
  expect(first({ now: early, resources: [aMachine(off)] }).verdict).toBe("as due");
  const led = first({ now: early, resources: [aMachine(off)], fleets: [aFleet({ lead: 15 })] });
  expect(led).toMatchObject({ verdict: "act", action: { verb: "start" } });
  expect(led.why).toContain("15 min ahead");
});

test("what no fleet in force matches is left, untagged machines first of all", () => {
  expect(first({ resources: [aMachine({ tags: {} })] })).toMatchObject({ verdict: "left", fleet: null, action: null });
});

test("a guard forbids any action, whatever else speaks", () => {
  const hold = { id: 1, resourceId: "m1", fleet: null, level: asLevel(0), from: 0, to: NIGHT + 99, reason: "x" };
  const decision = first({ resources: [aMachine({ tags: { team: "draughting", "umbrik-guard": "" } })], holds: [hold] });
  expect(decision).toMatchObject({ verdict: "left", due: null });
  expect(decision.why).toContain("guard");
});

test("a hold on the resource goes before one on its fleet, and both before hours; an ended one is nothing", () => {
  const own = { id: 2, resourceId: "m1", fleet: null, level: asLevel(1), from: 0, to: NIGHT + 60, reason: "release" };
  const shared = { id: 3, resourceId: null, fleet: "f", level: asLevel(0), from: 0, to: NIGHT + 60, reason: "move" };
  expect(first({ holds: [shared, own] })).toMatchObject({ due: 1, verdict: "as due" });
  expect(first({ holds: [shared] })).toMatchObject({ due: 0, verdict: "act" });
  expect(first({ holds: [{ ...own, to: NIGHT }] })).toMatchObject({ due: 0, verdict: "act" });
});

test("an idle trip in effect keeps a machine off by day", () => {
  expect(first({ now: DAY, trips: new Map([["m1", DAY - 60]]) })).toMatchObject({ due: 0, action: { verb: "stop" } });
});

test("the highest-ranked fleet that matches has the machine", () => {
  const always = hours("always", [{ day: "daily", spans: ["00:00-24:00"] }]);
  const decision = first({
    fleets: [aFleet({ name: "upper", hours: "always" }), aFleet()],
    schedules: new Map([
      ["s", OFFICE],
      ["always", always],
    ]),
  });
  expect(decision).toMatchObject({ fleet: "upper", verdict: "as due" });
});

test("hibernation falls back to stop where it cannot be, and says for what reason", () => {
  const fleets = [aFleet({ offAction: "hibernate" })];
  expect(first({ fleets }).action).toMatchObject({ verb: "hibernate" });
  expect(first({ fleets, resources: [aMachine({ memoryGib: 64 })] })).toMatchObject({
    action: { verb: "stop" },
    why: expect.stringContaining("64 GiB"),
  });
  expect(first({ fleets, resources: [aMachine({ os: "windows" })] })).toMatchObject({
    action: { verb: "stop" },
    why: expect.stringContaining("windows"),
  });
});

test("a machine shut down from inside is released where it is still billed, and left where it is not", () => {
  const resources = [aMachine({ state: "halted", level: asLevel(0), target: asLevel(0) })];
  expect(first({ resources })).toMatchObject({ verdict: "act", action: { verb: "stop" } });
  const free = new Map([["p1", { ...PROVIDER, billedWhenHalted: false }]]);
  expect(first({ resources, capabilities: free }).verdict).toBe("as due");
});

test("a fleet started by hand is only ever lowered", () => {
  const fleets = [aFleet({ starts: "hand" })];
  expect(first({ fleets }).action?.verb).toBe("stop");
  expect(first({ fleets, now: DAY, resources: [aMachine(off)] })).toMatchObject({ verdict: "left", action: null });
});

test("a fleet that acts on edges acts once, and then leaves what a person does", () => {
  const fleets = [aFleet({ enforce: "edges" })];
  expect(first({ fleets }).verdict).toBe("act");
  expect(first({ fleets, lastDue: new Map([["m1", asLevel(0)]]) })).toMatchObject({ verdict: "left" });
  expect(first({ fleets, lastDue: new Map([["m1", asLevel(1)]]) }).verdict).toBe("act");
});

test("hours named by a tag are followed; an unknown name touches nothing and names the nearest", () => {
  const fleets = [aFleet({ hours: { fromTag: "hours" } })];
  expect(first({ fleets, resources: [aMachine({ tags: { team: "draughting", hours: "s" } })] }).verdict).toBe("act");
  const unknown = first({ fleets, resources: [aMachine({ tags: { team: "draughting", hours: "sx" } })] });
  expect(unknown).toMatchObject({ verdict: "left", action: null });
  expect(JSON.stringify(unknown.chain)).toContain('the nearest is \\"s\\"');
  expect(first({ fleets }).chain.at(-2)?.why).toContain("no tag hours");
});

test("a machine that is changing is waited for", () => {
  expect(first({ resources: [aMachine({ state: "stopping" })] })).toMatchObject({ verdict: "waiting", action: null });
  expect(first({ now: DAY, resources: [aMachine({ state: "starting" })] })).toMatchObject({ verdict: "waiting" });
});

test("a refused start waits for its next try, and then goes again", () => {
  const open = { level: asLevel(1), tryAgainAt: DAY + 60, lastAnswer: "no sloop-4 to be had" };
  const given = { now: DAY, resources: [aMachine(off)], openActions: new Map([["m1", open]]) };
  expect(first(given)).toMatchObject({ verdict: "waiting", why: expect.stringContaining("no sloop-4") });
  expect(first({ ...given, now: DAY + 60 })).toMatchObject({ verdict: "act", action: { verb: "start" } });
});

test("an account that could not be read is not touched", () => {
  expect(first({ unread: new Map([["a1", "no answer"]]) })).toMatchObject({
    verdict: "left",
    why: "the account was not read: no answer",
  });
});

test("an account gets only so many actions in a round", () => {
  const resources = ["m1", "m2", "m3"].map((name) => aMachine({ name }));
  const decisions = round({ resources, limits: { ...DEFAULT_LIMITS, perAccount: 2 } });
  expect(decisions.map(({ verdict }) => verdict)).toEqual(["act", "act", "waiting"]);
});

test("the stop brake stops none and asks, unless a person has allowed that many", () => {
  const resources = Array.from({ length: 10 }, (_, i) => aMachine({ name: `m${i}` }));
  const braked = round({ resources });
  expect(new Set(braked.map(({ verdict }) => verdict))).toEqual(new Set(["braked"]));
  expect(braked[0]?.why).toContain("10 of 10");
  expect(round({ resources, limits: { ...DEFAULT_LIMITS, allowedStops: 10 } }).every(({ verdict }) => verdict === "act")).toBe(
    true,
  );
  expect(round({ resources, limits: { ...DEFAULT_LIMITS, allowedStops: 9 } })[0]?.verdict).toBe("braked");
});

test("the brake lets starts through", () => {
  const stops = Array.from({ length: 10 }, (_, i) => aMachine({ name: `m${i}` }));
  const night = hours("night", [{ day: "daily", spans: ["20:00-06:00"] }]);
  const starter = aMachine({ ...off, name: "n1", tags: { team: "night" } });
  const decisions = round({
    resources: [...stops, starter],
    fleets: [aFleet(), aFleet({ name: "n", select: "team = night", hours: "night" })],
    schedules: new Map([
      ["s", OFFICE],
      ["night", night],
    ]),
  });
  expect(decisions.at(-1)).toMatchObject({ verdict: "act", action: { verb: "start" } });
  expect(decisions[0]?.verdict).toBe("braked");
});

test("a service paid by the hour stops just before its block ends, not in the middle", () => {
  const service = aMachine({ kind: "service", level: asLevel(6), target: asLevel(6), levelMax: 12, runSince: NIGHT - 1200 });
  expect(first({ resources: [service] })).toMatchObject({ verdict: "waiting", why: expect.stringContaining("paid for") });
  expect(first({ resources: [service], now: NIGHT + 2400 - 140 })).toMatchObject({ verdict: "act", action: { verb: "stop" } });
});

test("a group is set to its due level, no higher than it can go, and only once while members are coming", () => {
  const schedules = new Map([["s", hours("s", [{ day: "daily", spans: ["00:00-24:00 x9"] }])]]);
  const group = aMachine({ kind: "group", level: asLevel(3), target: asLevel(3), levelMax: 8 });
  expect(first({ resources: [group], schedules })).toMatchObject({
    action: { verb: "resize", level: 8 },
    why: expect.stringContaining("at most 8"),
  });
  expect(first({ resources: [{ ...group, target: asLevel(8) }], schedules }).verdict).toBe("as due");
});

test("the same input gives the same decisions", () => {
  expect(round({})).toEqual(round({}));
});
