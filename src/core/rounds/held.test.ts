import fc from "fast-check";
import { expect, test } from "vitest";
import { aFleet, aMachine, aRound } from "../../../tests/support/make";
import { asLevel, compileSchedule, scheduleSchema } from "../hours";
import { tryParseInstant } from "../time";
import { decide, type HeldStop, heldAfter, NO_LIMITS, newOverride, type Override } from ".";

const START = tryParseInstant("2027-03-11T10:00:00Z") as number;
const MINUTE = 60;
const SCHEDULES = new Map([
  ["s", compileSchedule(scheduleSchema.parse({ name: "s", zone: "UTC", rows: [{ day: "daily", spans: ["00:00-24:00"] }] }))],
]);
const machines = Array.from({ length: 14 }, (_, i) => aMachine({ name: `m${i}`, runSince: START - 9000 }));
const trip = (id: number, resourceId: string): Override => ({
  ...newOverride("trip", {
    resourceId,
    ruleKey: "r",
    level: asLevel(0),
    from: START,
    to: START + 86_400 * 9,
    reason: "idle",
    person: "an idle alarm",
  }),
  id,
});

type Happening = Readonly<{
  /** By machine: its trip stands. */
  tripped: readonly boolean[];
  isRead: boolean;
  isUsual: boolean;
  approved: readonly number[];
  limit: number | null;
}>;
const happening = fc.record({
  tripped: fc.array(fc.boolean(), { minLength: 14, maxLength: 14 }),
  isRead: fc.boolean(),
  isUsual: fc.boolean(),
  approved: fc.oneof({ weight: 5, arbitrary: fc.constant<number[]>([]) }, { weight: 1, arbitrary: fc.subarray([0, 3, 7, 11]) }),
  limit: fc.constantFrom(null, null, 2, 40),
});

function roundOf({ tripped, isRead, isUsual, approved, limit }: Happening, held: ReadonlyMap<string, HeldStop>, now: number) {
  return decide(
    aRound({
      now,
      resources: machines,
      fleets: [aFleet()],
      schedules: SCHEDULES,
      overrides: machines.flatMap(({ id }, i) => (tripped[i] ? [trip(i + 1, id)] : [])),
      closed: new Map(isRead ? [] : [["a1", { code: "unread", error: "no answer" }]]),
      usualTrips: () => isUsual,
      approved: new Set(approved.map((i) => `m${i}`)),
      limits: { ...NO_LIMITS, stops: limit },
      held,
    }),
  );
}

test("whatever happens over rounds, what was held goes only by a person's yes, and leaves only when nothing asks for it", () => {
  fc.assert(
    fc.property(fc.array(happening, { minLength: 2, maxLength: 12 }), (story) => {
      let held: ReadonlyMap<string, HeldStop> = new Map();
      story.forEach((one, k) => {
        const now = START + k * 90 * MINUTE;
        const decisions = roundOf(one, held, now);
        const next = new Map(held);
        for (const [id, stop] of heldAfter(decisions, { held, now, isWhole: true })) {
          if (stop === null) next.delete(id);
          else next.set(id, stop);
        }
        decisions.forEach(({ resourceId, verdict }, i) => {
          const before = held.get(resourceId);
          const isYes = one.approved.includes(i);
          const isLimitGone = before?.reason === "limit" && (one.limit === null || one.limit > before.limit);
          if (before && verdict === "act") expect(isYes || isLimitGone, `${resourceId} in round ${k}`).toBe(true);
          if (before && one.tripped[i] && !isYes && !isLimitGone) expect(next.has(resourceId)).toBe(true);
          if (before && !one.tripped[i]) expect(next.has(resourceId)).toBe(false);
        });
        held = next;
      });
    }),
    { numRuns: 300, seed: 250 },
  );
});

const all = { tripped: machines.map(() => true), isRead: true, isUsual: false, approved: [], limit: null };
const few = { ...all, tripped: machines.map((_, i) => i < 3), isUsual: true };

test("what nobody foresaw when it was held is not foreseen by waiting, nor by being few; what trips later by itself goes", () => {
  const held = new Map([...heldAfter(roundOf(all, new Map(), START), { held: new Map(), now: START, isWhole: true })]) as Map<
    string,
    HeldStop
  >;
  expect(held.size).toBe(14);
  const later = roundOf(few, held, START + 7200);
  expect(later.filter(({ verdict }) => verdict === "braked").map(({ resourceId }) => resourceId)).toEqual(["m0", "m1", "m2"]);
  expect([...heldAfter(later, { held, now: START + 7200, isWhole: true })].filter(([, stop]) => stop === null)).toHaveLength(11);
  expect(roundOf(few, new Map(), START + 7200)[0]?.verdict).toBe("act");
});

test("what is gone is held no more, but a round of one fleet says nothing of others", () => {
  const held = new Map<string, HeldStop>([["gone", { since: START, reason: "unforeseen", limit: null }]]);
  expect([...heldAfter([], { held, now: START, isWhole: true })]).toEqual([["gone", null]]);
  expect(heldAfter([], { held, now: START, isWhole: false }).size).toBe(0);
});

test("a limit holds its very set until it is raised or taken away", () => {
  const held = new Map<string, HeldStop>([["m0", { since: START, reason: "limit", limit: 2 }]]);
  const under = (limit: number | null) =>
    roundOf({ ...few, tripped: few.tripped.map((_, i) => i < 1), limit }, held, START + 60)[0]?.verdict;
  expect([under(2), under(1), under(3), under(null)]).toEqual(["braked", "braked", "act", "act"]);
});

test("an evening that the hours foresaw is no question any more", () => {
  const held = new Map<string, HeldStop>([["m0", { since: START, reason: "unforeseen", limit: null }]]);
  const evening = compileSchedule(
    scheduleSchema.parse({ name: "s", zone: "UTC", rows: [{ day: "daily", spans: ["08:00-18:00"] }] }),
  );
  const now = START + 8 * 3600 + 60;
  const given = { now, resources: machines.slice(0, 1), fleets: [aFleet()], overrides: [trip(1, "m0")], held };
  const seen = new Map([["m0", { fleet: "f", since: 0, level: asLevel(1), foreseenSince: null }]]);
  const asked = aRound({
    ...given,
    schedules: new Map([["s", evening]]),
    seen,
    fellAsKnown: () => true,
    usualTrips: () => false,
  });
  const [decision] = decide(asked);
  expect(decision).toMatchObject({ verdict: "act", action: { verb: "stop" } });
  expect([...heldAfter(decision ? [decision] : [], { held, now, isWhole: true })]).toEqual([["m0", null]]);
});
