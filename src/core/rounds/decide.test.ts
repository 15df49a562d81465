import { expect, test } from "vitest";
import { aFleet, aMachine, aRound, PLACED, PROVIDER } from "../../../tests/support/make";
import { asLevel, compileSchedule, scheduleSchema } from "../hours";
import { tryParseInstant } from "../time";
import { decide, NO_LIMITS, type RoundInput } from ".";

const NIGHT = tryParseInstant("2027-03-11T22:00:00Z") as number;
const DAY = tryParseInstant("2027-03-11T10:00:00Z") as number;
const hours = (name: string, rows: unknown[]) => compileSchedule(scheduleSchema.parse({ name, zone: "Europe/Oslo", rows }));
const OFFICE = hours("s", [{ day: "workdays", spans: ["07:30-18:00"] }]);
const off = { state: "stopped" as const, level: asLevel(0), target: asLevel(0), runSince: null };

function round(more: Partial<RoundInput>) {
  const given = { now: NIGHT, resources: [aMachine()], fleets: [aFleet()], schedules: new Map([["s", OFFICE]]) };
  return decide(aRound({ ...given, fellAsKnown: () => true, fallsAsKnown: () => true, ...more }));
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
    ["person's start", false],
    ["hours", true],
  ]);
});

test("a stopped machine is started by day, with the lead before the hour", () => {
  expect(first({ now: DAY, resources: [aMachine(off)] })).toMatchObject({ verdict: "act", action: { verb: "start" } });
  const early = tryParseInstant("2027-03-11T07:20:00+01:00") as number;
  expect(first({ now: early, resources: [aMachine(off)] }).verdict).toBe("as due");
  const led = first({ now: early, resources: [aMachine(off)], fleets: [aFleet({ lead: 15 })] });
  expect(led).toMatchObject({ verdict: "act", action: { verb: "start" } });
  expect(led.reasons).toMatchObject([{ code: "hours", row: "workdays", aheadMinutes: 15 }]);
});

test("what no fleet in force matches is left, untagged machines first of all", () => {
  expect(first({ resources: [aMachine({ tags: {} })] })).toMatchObject({ verdict: "left", fleet: null, action: null });
});

test("a guard forbids any action, whatever else speaks", () => {
  const hold = { id: 1, resourceId: "m1", fleet: null, level: asLevel(0), from: 0, to: NIGHT + 99, reason: "x", ...PLACED };
  const decision = first({ resources: [aMachine({ tags: { team: "draughting", "umbrik-guard": "" } })], overrides: [hold] });
  expect(decision).toMatchObject({ verdict: "left", due: null });
  expect(decision.reasons).toEqual([{ code: "guarded" }]);
});

test("a hold on the resource goes before one on its fleet, and both before hours; an ended one is nothing", () => {
  const own = { id: 2, resourceId: "m1", fleet: null, level: asLevel(1), from: 0, to: NIGHT + 60, reason: "release", ...PLACED };
  const shared = { id: 3, resourceId: null, fleet: "f", level: asLevel(0), from: 0, to: NIGHT + 60, reason: "move", ...PLACED };
  expect(first({ overrides: [shared, own] })).toMatchObject({ due: 1, verdict: "as due" });
  expect(first({ overrides: [shared] })).toMatchObject({ due: 0, verdict: "act" });
  expect(first({ overrides: [{ ...own, to: NIGHT }] })).toMatchObject({ due: 0, verdict: "act" });
});

test("an idle trip turns a machine off by day in its own way, above a person's start and below a hold", () => {
  const of = (id: number, more: object) => ({
    id,
    resourceId: "m1",
    fleet: null,
    level: asLevel(0),
    from: DAY - 60,
    to: DAY + 600,
    reason: "r",
    ...PLACED,
    ...more,
  });
  const trip = of(1, { kind: "trip", offAction: "hibernate" });
  expect(first({ now: DAY, overrides: [trip] })).toMatchObject({ due: 0, isUnforeseen: false, action: { verb: "hibernate" } });
  expect(first({ now: DAY, overrides: [of(1, { kind: "trip", offAction: "stop" })] })).toMatchObject({
    action: { verb: "stop" },
  });
  expect(first({ now: DAY, overrides: [trip, of(2, { kind: "start", level: asLevel(1) })] })).toMatchObject({ due: 0 });
  expect(first({ now: DAY, overrides: [trip, of(2, { level: asLevel(1) })] })).toMatchObject({ due: 1, verdict: "as due" });
  expect(first({ now: DAY + 600, overrides: [trip] })).toMatchObject({ due: 1 });
});

test("more idle trips in an hour than a fleet is used to are no foreseen stops, and the brake holds them", () => {
  const resources = Array.from({ length: 40 }, (_, i) => aMachine({ id: `m${i}`, name: `m${i}` }));
  const holds = resources.map(({ id }, i) => ({
    id: i + 1,
    resourceId: id,
    fleet: null,
    level: asLevel(0),
    from: DAY - 60,
    to: DAY + 600,
    reason: "r",
    ...PLACED,
    kind: "trip" as const,
  }));
  const verdicts = (usual: boolean) =>
    new Set(round({ now: DAY, resources, overrides: holds, usualTrips: () => usual }).map(({ verdict }) => verdict));
  expect(verdicts(true)).toEqual(new Set(["act"]));
  expect(verdicts(false)).toEqual(new Set(["braked"]));
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
    action: { verb: "stop", note: { code: "no hibernation", because: { code: "memory", gib: 64 } } },
    reasons: [{ code: "hours" }, { code: "no hibernation" }],
  });
  expect(first({ fleets, resources: [aMachine({ os: "windows" })] })).toMatchObject({
    action: { verb: "stop", note: { code: "no hibernation", because: { code: "os", os: "windows" } } },
  });
});

test("a machine shut down from inside is released where it is still billed, and left where it is not", () => {
  const resources = [aMachine({ state: "halted", level: asLevel(0), target: asLevel(0) })];
  expect(first({ resources })).toMatchObject({ verdict: "act", action: { verb: "stop" } });
  const free = new Map([["a1", { ...PROVIDER, billedWhenHalted: false }]]);
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
  expect(unknown.chain.at(-2)?.reason).toEqual({ code: "no hours", of: { kind: "unknown", text: "sx", nearest: "s" } });
  expect(first({ fleets }).chain.at(-2)?.reason).toEqual({ code: "no hours", of: { kind: "untagged", key: "hours" } });
});

test("a machine that is changing is waited for", () => {
  expect(first({ resources: [aMachine({ state: "stopping" })] })).toMatchObject({ verdict: "waiting", action: null });
  expect(first({ now: DAY, resources: [aMachine({ state: "starting" })] })).toMatchObject({ verdict: "waiting" });
});

test("a refused start waits for its next try, and then goes again", () => {
  const open = { level: asLevel(1), tryAgainAt: DAY + 60, lastAnswer: "no sloop-4 to be had" };
  const given = { now: DAY, resources: [aMachine(off)], openActions: new Map([["m1", open]]) };
  expect(first(given)).toMatchObject({ verdict: "waiting", reasons: [{ code: "asked again later", answer: open.lastAnswer }] });
  expect(first({ ...given, now: DAY + 60 })).toMatchObject({ verdict: "act", action: { verb: "start" } });
});

test("an account that could not be read is not touched", () => {
  const unread = { code: "unread", error: "no answer" } as const;
  expect(first({ closed: new Map([["a1", unread]]) })).toMatchObject({ verdict: "left", reasons: [unread] });
});

test("a resource that was listed oddly is not touched", () => {
  expect(first({ setAside: new Map([["m1", "its tag x has a character that is none"]]) })).toMatchObject({ verdict: "left" });
});

const many = (count: number, more: Parameters<typeof aMachine>[0] = {}) =>
  Array.from({ length: count }, (_, i) => aMachine({ name: `m${i}`, ...more }));
const seenOn = (count: number, since = 0) =>
  new Map(many(count).map(({ id }) => [id, { fleet: "f", since, level: asLevel(1), foreseenSince: null }]));
const verdicts = (decisions: ReturnType<typeof round>) => [...new Set(decisions.map(({ verdict }) => verdict))];

test("an office of a thousand desks closes every evening: what hours foresee is never held", () => {
  const decisions = round({ resources: many(1000), seen: seenOn(1000) });
  expect(verdicts(decisions)).toEqual(["act"]);
  expect(decisions[0]).toMatchObject({ isUnforeseen: false, seen: { foreseenSince: NIGHT } });
});

test("the same thousand are held where hours changed within the hour, or the fleet has them for less", () => {
  expect(verdicts(round({ resources: many(1000), seen: seenOn(1000), fellAsKnown: () => false }))).toEqual(["braked"]);
  expect(verdicts(round({ resources: many(1000), seen: seenOn(1000, NIGHT - 3599) }))).toEqual(["braked"]);
  expect(verdicts(round({ resources: many(1000) }))).toEqual(["braked"]);
});

test("up to ten unforeseen stops, or up to a twentieth of what runs in fleets, go on; guarded and fleetless ones are not counted", () => {
  expect(verdicts(round({ resources: many(10) }))).toEqual(["act"]);
  expect(verdicts(round({ resources: many(11) }))).toEqual(["braked"]);
  const always = hours("always", [{ day: "daily", spans: ["00:00-24:00"] }]);
  const schedules = new Map([
    ["s", OFFICE],
    ["always", always],
  ]);
  const fleets = [aFleet(), aFleet({ name: "n", select: "team = night", hours: "always" })];
  const others = (count: number, tags: Record<string, string>) =>
    Array.from({ length: count }, (_, i) => aMachine({ name: `n${i}`, tags }));
  const stops = (resources: ReturnType<typeof many>) => verdicts(round({ resources, fleets, schedules }).slice(0, 11));
  expect(stops([...many(11), ...others(209, { team: "night" })])).toEqual(["act"]);
  expect(stops([...many(11), ...others(208, { team: "night" })])).toEqual(["braked"]);
  expect(stops([...many(11), ...others(300, { team: "night", "umbrik-guard": "" })])).toEqual(["braked"]);
  expect(stops([...many(11), ...others(300, { team: "nobody" })])).toEqual(["braked"]);
});

test("unforeseen stops of the last hour count with those of the round, each machine once", () => {
  const limits = { ...NO_LIMITS, unforeseenOfHour: new Set(["m0", "x1", "x2"]) };
  expect(verdicts(round({ resources: many(8), limits }))).toEqual(["act"]);
  expect(verdicts(round({ resources: many(9), limits }))).toEqual(["braked"]);
});

test("letting go holds for its very set, and a hold is a person's word", () => {
  const resources = many(30);
  const approved = new Set(resources.slice(0, 12).map(({ id }) => id));
  const decisions = round({ resources, approved });
  expect(decisions.filter(({ verdict }) => verdict === "act").map(({ resourceId }) => resourceId)).toEqual([...approved]);
  expect(decisions.filter(({ verdict }) => verdict === "braked")).toHaveLength(18);
  const hold = { id: 1, resourceId: null, fleet: "f", level: asLevel(0), from: 0, to: NIGHT + 99, reason: "x", ...PLACED };
  expect(verdicts(round({ resources, overrides: [hold] }))).toEqual(["act"]);
});

test("a limit on all stops holds them all, foreseen or not", () => {
  const given = { resources: many(30), seen: seenOn(30) };
  expect(verdicts(round({ ...given, limits: { ...NO_LIMITS, stops: 30 } }))).toEqual(["act"]);
  expect(verdicts(round({ ...given, limits: { ...NO_LIMITS, stops: 29 } }))).toEqual(["braked"]);
  // A person who has seen them lets them go, past the limit too.
  const approved = new Set(given.resources.map(({ id }) => id));
  expect(verdicts(round({ ...given, approved, limits: { ...NO_LIMITS, stops: 29 } }))).toEqual(["act"]);
});

test("the brake lets starts through, and foreseen stops", () => {
  const night = hours("night", [{ day: "daily", spans: ["20:00-06:00"] }]);
  const starter = aMachine({ ...off, name: "n1", tags: { team: "night" } });
  const decisions = round({
    resources: [...many(12), starter],
    seen: seenOn(1),
    fleets: [aFleet(), aFleet({ name: "n", select: "team = night", hours: "night" })],
    schedules: new Map([
      ["s", OFFICE],
      ["night", night],
    ]),
  });
  expect(decisions.at(-1)).toMatchObject({ verdict: "act", action: { verb: "start" } });
  expect(decisions[0]?.verdict).toBe("act");
  expect(decisions[1]?.verdict).toBe("braked");
});

test("a service paid by the hour stops just before its block ends, not in the middle", () => {
  const service = aMachine({ kind: "service", level: asLevel(6), target: asLevel(6), levelMax: 12, runSince: NIGHT - 1200 });
  expect(first({ resources: [service] })).toMatchObject({
    verdict: "waiting",
    reasons: [{ code: "hours" }, { code: "its block is paid for" }],
  });
  expect(first({ resources: [service], now: NIGHT + 2400 - 140 })).toMatchObject({ verdict: "act", action: { verb: "stop" } });
});

const CLOSING = tryParseInstant("2027-03-11T17:00:00Z") as number;
const billed = (endsAt: number, more: Parameters<typeof aMachine>[0] = {}) =>
  aMachine({ kind: "service", levelMax: 12, runSince: endsAt - 7200, ...more });

test("a block that ends within a round after closing is not paid for again: the stop goes up to two rounds before", () => {
  const resources = [billed(CLOSING + 30)];
  expect(first({ resources, now: CLOSING - 121 }).verdict).toBe("as due");
  expect(first({ resources, now: CLOSING - 120 })).toMatchObject({
    verdict: "act",
    due: 0,
    action: { verb: "stop", level: 0 },
    isUnforeseen: false,
    reasons: [{ code: "before the block ends", because: { code: "hours", level: 0 }, at: CLOSING }],
  });
  // One that ends before closing has begun anew, and one that ends later waits for its own last round.
  for (const endsAt of [CLOSING - 1, CLOSING + 61]) {
    expect(first({ resources: [billed(endsAt)], now: CLOSING - 120 }).verdict, String(endsAt)).toBe("as due");
  }
  expect(first({ resources: [billed(CLOSING)], now: CLOSING - 120 }).verdict).toBe("act");
  expect(first({ resources: [aMachine({ runSince: CLOSING - 7170 })], now: CLOSING - 120 }).verdict).toBe("as due");
});

test("nothing goes early by a plan of this hour, or where a hold keeps it on; a hold that ends is a person's word", () => {
  const resources = [billed(CLOSING + 30)];
  const early = { resources, now: CLOSING - 90, fallsAsKnown: () => false };
  expect(first(early).verdict).toBe("as due");
  const on = {
    id: 1,
    resourceId: "m1",
    fleet: null,
    level: asLevel(1),
    from: 0,
    to: CLOSING + 3600,
    reason: "release",
    ...PLACED,
  };
  expect(first({ ...early, fallsAsKnown: () => true, overrides: [on] }).verdict).toBe("as due");
  const off = { ...on, level: asLevel(0), from: CLOSING };
  expect(first({ ...early, overrides: [off] })).toMatchObject({ verdict: "act", action: { verb: "stop" } });
});

test("what went early is not started again for the rest of its hours, whatever the plan enforces", () => {
  const resources = [billed(CLOSING + 30, { ...off, runSince: null })];
  for (const enforce of ["always", "edges"]) {
    const fleets = [aFleet({ enforce })];
    const decision = first({ resources, fleets, now: CLOSING - 60, lastDue: new Map([["m1", asLevel(0)]]) });
    expect(decision, enforce).toMatchObject({ verdict: "left", action: null });
  }
  expect(first({ resources, now: CLOSING - 180 }).verdict).toBe("act");
});

test("a group is set to its due level, no higher than it can go, and only once while members are coming", () => {
  const schedules = new Map([["s", hours("s", [{ day: "daily", spans: ["00:00-24:00 x9"] }])]]);
  const group = aMachine({ kind: "group", level: asLevel(3), target: asLevel(3), levelMax: 8 });
  expect(first({ resources: [group], schedules })).toMatchObject({
    action: { verb: "resize", level: 8 },
    reasons: [{ code: "hours" }, { code: "at most there", levelMax: 8 }],
  });
  expect(first({ resources: [{ ...group, target: asLevel(8) }], schedules }).verdict).toBe("as due");
});

test("the same input gives the same decisions", () => {
  expect(round({})).toEqual(round({}));
});
