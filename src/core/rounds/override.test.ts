import fc from "fast-check";
import { expect, test } from "vitest";
import { aFleet, aMachine, aRound } from "../../../tests/support/make";
import { asLevel, compileSchedule, type Level, scheduleSchema } from "../hours";
import { type FleetPlan, pooledSchema, type Resource } from "../plan";
import type { Amount, AmountPerSecond, RateCard } from "../pricing";

import { compareDay } from "../realised";
import { tryParseInstant } from "../time";
import {
  decide,
  dueAt,
  dueOver,
  hoursAt,
  listedOverrides,
  nextDueEdges,
  OVERRIDE_KINDS,
  OVERRIDE_ORDER,
  OVERRIDES,
  type Override,
  type OverrideKind,
} from ".";

const START = tryParseInstant("2027-03-11T00:00:00Z") as number;
const HOUR = 3600;
const OFFICE = compileSchedule(
  scheduleSchema.parse({ name: "s", zone: "UTC", rows: [{ day: "daily", spans: ["07:00-12:00", "13:00-18:00"] }] }),
);

/** The order as docs/model.md has it, written down once more. */
function slowly(resource: Resource, fleet: FleetPlan, { overrides, t }: { overrides: readonly Override[]; t: number }) {
  if ("umbrik-guard" in resource.tags) return { kind: null, level: null, rule: "guard" };
  const hour = ((t - START) / HOUR) % 24;
  const hours = (hour >= 7 && hour < 12) || (hour >= 13 && hour < 18) ? 1 : 0;
  const last = (kind: OverrideKind, isOwn: boolean) =>
    overrides
      .filter((one) => one.kind === kind && one.from <= t && t < one.to && (one.resourceId === resource.id) === isOwn)
      .sort((a, b) => b.id - a.id)[0];
  const own = last("hold", true);
  if (own) return { kind: "hold", level: own.level, rule: "hold on the resource" };
  const shared = last("hold", false);
  if (shared) return { kind: "hold", level: shared.level, rule: "hold on the fleet" };
  if (last("trip", true)) return { kind: "trip", level: 0, rule: "idle trip" };
  const start = last("start", true);
  if (start) return { kind: "start", level: Math.max(start.level, hours), rule: "person's start" };
  const ready = fleet.pooled ? last("ready", true) : undefined;
  if (ready) return { kind: "ready", level: ready.level, rule: "ready machines" };
  return { kind: null, level: hours, rule: "hours" };
}

const drawn = fc.record({
  isGuarded: fc.integer({ min: 0, max: 9 }).map((n) => n === 0),
  isPool: fc.boolean(),
  overrides: fc
    .array(
      fc.record({
        kind: fc.constantFrom(...OVERRIDE_KINDS),
        isOwn: fc.boolean(),
        isOn: fc.boolean(),
        from: fc.integer({ min: -10, max: 30 }),
        length: fc.integer({ min: 1, max: 20 }),
      }),
      { maxLength: 6 },
    )
    .map((list) =>
      list.map(({ kind, isOwn, isOn, from, length }, i): Override => {
        const onFleet = kind === "hold" && !isOwn;
        return {
          id: i + 1,
          kind,
          resourceId: onFleet ? null : "m1",
          fleet: onFleet ? "f" : null,
          level: asLevel(kind === "trip" ? 0 : kind === "start" ? 1 : isOn ? 1 : 0),
          from: START + from * HOUR,
          to: START + (from + length) * HOUR,
          reason: "drawn",
          ruleKey: null,
          offAction: kind === "trip" ? "hibernate" : null,
        };
      }),
    ),
});

function drawnCase({ isGuarded, isPool }: { isGuarded: boolean; isPool: boolean }) {
  const fleet = aFleet({ ...(isPool ? { pooled: pooledSchema.parse({}) } : {}) });
  const resource = aMachine({ tags: { team: "draughting", ...(isGuarded ? { "umbrik-guard": "" } : {}) }, poolPlace: 0 });
  return { fleet, resource };
}

const HALF_HOURS = Array.from({ length: 60 }, (_, i) => START + i * (HOUR / 2));

test("due at an instant, over time and at its edges, and what stands beside a machine, follow one order of overrides", () => {
  fc.assert(
    fc.property(drawn, ({ overrides, ...raw }) => {
      const { fleet, resource } = drawnCase(raw);
      const following = { fleet, overrides, hours: { kind: "schedule" as const, compiled: OFFICE } };
      const over = dueOver(resource, following, { from: START, to: START + 30 * HOUR });
      const edges = nextDueEdges(resource, following, { t: START, count: 12 });
      let before: Level | null = null;
      HALF_HOURS.forEach((t, i) => {
        const expected = slowly(resource, fleet, { overrides, t });
        const now = hoursAt(OFFICE, t, { leadMinutes: 0, ownSize: asLevel(1) });
        const due = dueAt(resource, { now: t, fleet, overrides, hours: { kind: "schedule", now } });
        expect([due.level, due.decidedBy]).toEqual([expected.level, expected.rule]);
        expect(due.chain.find(({ applies }) => applies)?.rule).toBe(due.decidedBy);
        expect(due.offAction).toBe(expected.kind === "trip" ? "hibernate" : null);
        const span = over.find(({ from, to }) => from <= t && t < to);
        expect([span?.level, span?.decidedBy]).toEqual([expected.level, expected.rule]);
        if (i > 0 && edges.length < 12) expect(edges.some(({ at }) => at === t)).toBe(before !== due.level);
        before = due.level;
        const listed = listedOverrides(overrides, t)(resource, fleet.name);
        const isShown = expected.kind !== null && expected.kind !== "ready";
        expect(listed?.kind ?? null).toBe(isShown ? expected.kind : null);
      });
    }),
    { numRuns: 300, seed: 241 },
  );
});

test("what is not listed speaks after what is: else a row would show what does not decide", () => {
  const listed = OVERRIDE_ORDER.map(({ kind }) => OVERRIDES[kind].isListed);
  expect(listed).toEqual([...listed].sort((a, b) => Number(b) - Number(a)));
});

test("the brake calls foreseen what the table of overrides calls so", () => {
  fc.assert(
    fc.property(drawn, fc.boolean(), fc.integer({ min: 0, max: 29 }), ({ overrides, ...raw }, isUsual, hour) => {
      const { fleet, resource } = drawnCase(raw);
      const now = START + hour * HOUR;
      const schedules = new Map([["s", OFFICE]]);
      const [decision] = decide(
        aRound({ now, resources: [resource], fleets: [fleet], schedules, overrides, usualTrips: () => isUsual }),
      );
      const expected = slowly(resource, fleet, { overrides, t: now });
      const isStop = expected.level === 0;
      expect(decision?.due).toBe(expected.level);
      const isForeseen = expected.kind === "hold" || expected.kind === "ready" || (expected.kind === "trip" && isUsual);
      expect(decision?.isUnforeseen).toBe(isStop && !isForeseen);
    }),
    { numRuns: 300, seed: 242 },
  );
});

const rate = (n: number) => BigInt(n) as AmountPerSecond;
const CARD: RateCard = {
  perLevel: rate(5),
  licencePerCore: rate(0),
  licenceCoresMin: 0,
  licenceCores: 1,
  billing: { granularityS: 1, minimumS: 1 },
  always: rate(0),
  addressesOn: rate(0),
  addressesOff: rate(0),
  image: rate(0),
  billedWhenHalted: false,
  unpriced: [],
};

test("a difference that overrides made is put down to the one that goes first", () => {
  const day = { from: 0, to: 1000 };
  const one = (kind: OverrideKind) => ({ kind, ...day });
  fc.assert(
    fc.property(fc.uniqueArray(fc.constantFrom(...OVERRIDE_KINDS), { minLength: 1 }), (kinds) => {
      const first = (["hold", "trip", "start", "ready"] as const).find((kind) => kinds.includes(kind)) as OverrideKind;
      const { gap } = compareDay({
        ...day,
        life: [{ ...day, state: "running", level: asLevel(1) }],
        due: [{ ...day, level: asLevel(0) }],
        dueThen: [{ ...day, level: asLevel(0) }],
        cards: [{ from: 0, card: CARD }],
        planCard: CARD,
        paid: 5000n as Amount,
        hibernates: false,
        starts: "plan",
        isNew: false,
        endedAt: null,
        overrides: kinds.map(one),
        failed: [],
        actions: [],
        evictedAt: [],
      });
      expect(gap[OVERRIDES[first].cause]).toBe(5000n);
    }),
  );
});

test("what is said of a kind in one place is said of all kinds", () => {
  expect(Object.keys(OVERRIDES).sort()).toEqual([...OVERRIDE_KINDS].sort());
  expect(new Set(Object.values(OVERRIDES).map(({ cause }) => cause)).size).toBe(OVERRIDE_KINDS.length);
});
