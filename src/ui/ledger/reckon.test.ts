import { expect, test } from "vitest";
import { asLevel, compileSchedule, scheduleSchema } from "@/core/hours";
import type { Resource } from "@/core/plan";
import type { Basis } from "@/services";
import { aFleet, aMachine, PROVIDER } from "../../../tests/support/make";
import { firstRound, money, projectedOf, reckon, saidHours, share } from "./reckon";

const NOW = Date.UTC(2027, 2, 11, 22) / 1000;
const DAY = 86_400;
/** One currency unit an hour, as the server sends it. */
const UNIT = String(10n ** 9n * 730n);

function basisOf(resources: readonly Resource[], claimedBy: string | null = null): Basis {
  return {
    selectorError: null,
    warnings: [],
    nearMisses: [],
    total: resources.length,
    windows: { past: { from: NOW - 28 * DAY, to: NOW }, ahead: { from: NOW, to: NOW + 365 * DAY } },
    now: NOW,
    currency: "EUR",
    providers: [PROVIDER],
    holds: [],
    starts: null,
    commitments: [],
    lines: resources.map((resource) => ({
      resource,
      claimedBy,
      unpriced: [],
      whyNoHibernation: null,
      projected: {
        id: resource.id,
        kind: resource.kind,
        levelMax: 1,
        runs: [{ from: NOW - 28 * DAY, to: NOW, level: asLevel(1) }],
        isLeft: claimedBy !== null,
        canHibernate: true,
        card: {
          perLevel: UNIT,
          licencePerCore: "0",
          licenceCoresMin: 0,
          licenceCores: 4,
          billing: { granularityS: 1, minimumS: 60 },
          always: "0",
          addressesOn: "0",
          addressesOff: "0",
          image: "0",
          billedWhenHalted: true,
          unpriced: [],
        },
      },
    })),
  };
}

const week = (name: string, span: string) =>
  compileSchedule(scheduleSchema.parse({ name, zone: "UTC", rows: [{ day: "daily", spans: [span] }] }));
const SCHEDULES = new Map(
  [week("half", "06:00-18:00"), week("quarter", "06:00-12:00")].map((compiled) => [compiled.schedule.name, compiled]),
);
const tagged = (name: string, hours: string) => aMachine({ name, tags: { team: "draughting", hours } });

test("a basis comes back over the wire with its exact amounts", () => {
  const [line] = projectedOf(basisOf([aMachine()]));
  expect(line?.card.perLevel).toBe(10n ** 9n * 730n);
});

test("one schedule for all is projected for all; without hours a month costs what it cost", () => {
  const basis = basisOf([aMachine({ name: "a" }), aMachine({ name: "b" })]);
  const projected = projectedOf(basis);
  const plan = aFleet({ hours: "half" });
  expect(money(reckon(projected, { basis, plan, schedules: SCHEDULES }).projected)).toBe("730.00");
  expect(money(reckon(projected, { basis, plan: aFleet({ hours: undefined }), schedules: SCHEDULES }).projected)).toBe(
    "1\u00a0460.00",
  );
});

test("with hours from a tag each machine is projected by its own, and an unknown name changes nothing and is told", () => {
  const basis = basisOf([tagged("a", "half"), tagged("b", "quarter"), tagged("c", "hlaf")]);
  const reckoning = { basis, plan: aFleet({ hours: { fromTag: "hours" } }), schedules: SCHEDULES };
  const result = reckon(projectedOf(basis), reckoning);
  expect(money(result.projected)).toBe("1\u00a0277.50"); // 365 + 182.50 + 730
  expect(result.asItRan - result.projected).toBe(result.savesOnAsItRan);
  expect(saidHours(reckoning)).toMatchObject([
    { found: { kind: "unknown", text: "hlaf", nearest: "half" }, machines: ["c"] },
    { text: "half", machines: ["a"] },
    { text: "quarter", machines: ["b"] },
  ]);
  expect(firstRound(reckoning).stops.map(({ name }) => name)).toEqual(["a", "b"]);
});

test("a whole line in a tag is followed in the zone of the region's people, and one that does not read is told", () => {
  const region = { name: "fjord-1", peopleZone: "Europe/Oslo", zones: [] };
  const given = basisOf([tagged("a", "Mo-Su 10:00-14:00"), tagged("b", "Mo-Fr 8:00-18:00")]);
  const basis = { ...given, providers: [{ ...PROVIDER, regions: [region] }] };
  const reckoning = { basis, plan: aFleet({ hours: { fromTag: "hours" } }), schedules: SCHEDULES };
  expect(saidHours(reckoning)).toMatchObject([
    { found: { kind: "unreadable", nearest: "Mo-Fr 08:00-18:00" }, machines: ["b"] },
    { found: { kind: "schedule", compiled: { schedule: { zone: "Europe/Oslo" } } }, machines: ["a"] },
  ]);
  // Four hours of 24 for one, unchanged for the other.
  expect(money(reckon(projectedOf(basis), reckoning).projected)).toBe("851.67");
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
    aMachine({ name: "pool", kind: "group", level: asLevel(3), target: asLevel(3), levelMax: 8 }),
  ]);
  const first = firstRound({ basis, plan: aFleet({ hours: "night" }), schedules: night });
  expect(first.guarded).toBe(1);
  expect(first.starts.map(({ name }) => name)).toEqual(["starts"]);
  expect(first.resizes.map(({ resource, level }) => `${resource.name} ${level}`)).toEqual(["pool 1"]);
});

test("a share of nothing is nothing", () => {
  expect(share(5n as never, 0n as never)).toBe("0 %");
  expect(share(1n as never, 3n as never)).toBe("33.3 %");
});
