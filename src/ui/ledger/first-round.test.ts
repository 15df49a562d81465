import { expect, test } from "vitest";
import { asLevel, compileSchedule, scheduleSchema } from "@/core/hours";
import type { Resource } from "@/core/plan";
import { type AmountPerSecond, NO_RATE, type RateCard } from "@/core/pricing";
import { decodeLines, encodeLines, type Line, monthlyOf, monthsFrom, ranOf } from "@/core/projection";
import type { Basis } from "@/services/cost";
import { aFleet, aMachine, PROVIDER } from "../../../tests/support/make";
import { firstRound, type PlanOnBasis, saidHours } from "./first-round";
import { money, share, shownDifference } from "./money";
import { laidUnder, projectionOf } from "./project";

const NOW = Date.UTC(2027, 2, 11, 22) / 1000;
const DAY = 86_400;
const DAYS = Array.from({ length: 28 }, (_, i) => Math.floor(NOW / DAY) - 28 + i);
/** One currency unit an hour. */
const CARD: RateCard = {
  perLevel: (10n ** 9n * 730n) as AmountPerSecond,
  licencePerCore: NO_RATE,
  licenceCoresMin: 0,
  licenceCores: 4,
  billing: { granularityS: 1, minimumS: 60 },
  always: NO_RATE,
  addressesOn: NO_RATE,
  addressesOff: NO_RATE,
  image: NO_RATE,
  billedWhenHalted: true,
  unpriced: [],
};

function lineOf(resource: Resource, isLeft: boolean): Line {
  const life = [{ from: NOW - 40 * DAY, to: NOW, state: "running" as const, level: asLevel(1) }];
  return {
    id: resource.id,
    kind: resource.kind,
    one: { kind: resource.kind, fields: resource.fields },
    levelMax: resource.levelMax,
    ownSize: resource.ownSize,
    card: CARD,
    ran: ranOf(life, { card: CARD, days: DAYS }),
    isLeft,
    canHibernate: true,
  };
}

function basisOf(resources: readonly Resource[], claimedBy: string | null = null): Basis {
  return {
    selectorError: null,
    warnings: [],
    nearMisses: [],
    total: resources.length,
    months: monthsFrom(NOW, 2),
    days: DAYS,
    basisWords: "",
    isBasisChosen: false,
    spare: null,
    now: NOW,
    currency: "EUR",
    view: "after",
    capabilities: [["a1", PROVIDER]],
    holds: [],
    lastDue: {},
    starts: null,
    soFar: [],
    lines: resources.map((resource) => ({ resource, claimedBy, unpriced: [], whyNoHibernation: null })),
    projected: encodeLines(resources.map((resource) => lineOf(resource, claimedBy !== null))),
  };
}

/** March, the first month, with the plan; what it costs unchanged where there is none. */
const costOf = (onBasis: PlanOnBasis) => {
  const { basis } = onBasis;
  const { steps, asItRan, alwaysOn } = projectionOf(laidUnder(decodeLines(basis.projected), basis, undefined), onBasis);
  return money(monthlyOf(steps.at(-1)?.after ?? asItRan ?? alwaysOn, 0));
};

const week = (name: string, span: string) =>
  compileSchedule(scheduleSchema.parse({ name, zone: "UTC", rows: [{ day: "daily", spans: [span] }] }));
const SCHEDULES = new Map(
  [week("half", "06:00-18:00"), week("quarter", "06:00-12:00")].map((compiled) => [compiled.schedule.name, compiled]),
);
const tagged = (name: string, hours: string) => aMachine({ name, tags: { team: "draughting", hours } });

test("lines come back over the wire with their exact amounts, and those that shared a card share it again", () => {
  const lines = [lineOf(aMachine({ name: "a" }), false), lineOf(aMachine({ name: "b", ownSize: asLevel(1) }), true)];
  const back = decodeLines(JSON.parse(JSON.stringify(encodeLines(lines))));
  expect(back).toEqual(lines);
  expect(back[0]?.card).toBe(back[1]?.card);
  expect(() => decodeLines({ cards: [], lines: [{ id: 1 }] } as never)).toThrow();
});

test("one schedule for all is projected for all; without hours a month costs what it cost", () => {
  const basis = basisOf([aMachine({ name: "a" }), aMachine({ name: "b" })]);
  expect(costOf({ basis, plan: aFleet({ hours: "half" }), schedules: SCHEDULES })).toBe("744.00");
  expect(costOf({ basis, plan: aFleet({ hours: undefined }), schedules: SCHEDULES })).toBe("1\u00a0488.00");
});

test("with hours from a tag each machine is projected by its own, and an unknown name changes nothing and is told", () => {
  const basis = basisOf([tagged("a", "half"), tagged("b", "quarter"), tagged("c", "hlaf")]);
  const onBasis = { basis, plan: aFleet({ hours: { fromTag: "hours" } }), schedules: SCHEDULES };
  expect(costOf(onBasis)).toBe("1\u00a0302.00"); // 372 + 186 + 744
  expect(saidHours(onBasis)).toMatchObject([
    { found: { kind: "unknown", text: "hlaf", nearest: "half" }, machines: ["c"] },
    { text: "half", machines: ["a"] },
    { text: "quarter", machines: ["b"] },
  ]);
  expect(firstRound(onBasis).stops.map(({ name }) => name)).toEqual(["a", "b"]);
});

test("a whole line in a tag is followed in the zone of the region's people, and one that does not read is told", () => {
  const region = { name: "fjord-1", peopleZone: "Europe/Oslo", zones: [] };
  const given = basisOf([tagged("a", "Mo-Su 10:00-14:00"), tagged("b", "Mo-Fr 8:00-18:00")]);
  const basis = { ...given, capabilities: [["a1", { ...PROVIDER, regions: [region] }] as [string, typeof PROVIDER]] };
  const onBasis = { basis, plan: aFleet({ hours: { fromTag: "hours" } }), schedules: SCHEDULES };
  expect(saidHours(onBasis)).toMatchObject([
    { found: { kind: "unreadable", nearest: "Mo-Fr 08:00-18:00" }, machines: ["b"] },
    { found: { kind: "schedule", compiled: { schedule: { zone: "Europe/Oslo" } } }, machines: ["a"] },
  ]);
  // Four hours of 24 for one, unchanged for the other.
  expect(costOf(onBasis)).toBe("868.00");
});

test("what belongs to a fleet above is counted and never stopped", () => {
  const basis = basisOf([aMachine()], "upper");
  const first = firstRound({ basis, plan: aFleet({ hours: "half" }), schedules: SCHEDULES });
  expect(first).toMatchObject({ stops: [], claimed: 1 });
});

test("the first round keeps guards, and says what it starts and resizes", () => {
  const off = { state: "stopped" as const, level: asLevel(0), target: asLevel(0) };
  const night = new Map([["night", week("night", "20:00-06:00")]]);
  const basis = basisOf([
    aMachine({ name: "guarded", ...off, tags: { team: "draughting", "umbrik-guard": "yes" } }),
    aMachine({ name: "starts", ...off }),
    aMachine({ name: "pool", kind: "group", level: asLevel(3), target: asLevel(3), levelMax: 8, ownSize: asLevel(4) }),
  ]);
  const first = firstRound({ basis, plan: aFleet({ hours: "night" }), schedules: night });
  expect(first.guarded).toBe(1);
  expect(first.starts.map(({ name }) => name)).toEqual(["starts"]);
  expect(first.resizes.map(({ resource, level }) => `${resource.name} ${level}`)).toEqual(["pool 4"]);
});

test("a difference that is shown is the difference of what is shown", () => {
  const amount = (cents: number) => (BigInt(Math.round(cents * 10)) * 2_628_000_000_000n) as never;
  expect(shownDifference(amount(1202297.4), amount(582575.4))).toBe("6\u00a0197.22");
});

test("what edges were acted on before counts: at the same edge nothing is done again", () => {
  const off = { state: "stopped" as const, level: asLevel(0), target: asLevel(0) };
  const plan = aFleet({ hours: "half", enforce: "edges" });
  const noon = Date.UTC(2027, 2, 11, 12) / 1000;
  const basis = { ...basisOf([aMachine({ name: "m", ...off })]), now: noon };
  expect(firstRound({ basis, plan, schedules: SCHEDULES }).starts).toHaveLength(1);
  const acted = { ...basis, lastDue: { m: asLevel(1) } };
  expect(firstRound({ basis: acted, plan, schedules: SCHEDULES }).starts).toHaveLength(0);
});

test("a share of nothing is nothing", () => {
  expect(share(5n as never, 0n as never)).toBe("0 %");
  expect(share(1n as never, 3n as never)).toBe("33.3 %");
});
