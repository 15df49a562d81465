import fc from "fast-check";
import { expect, test } from "vitest";
import { asLevel, compileSchedule, levelAt, scheduleSchema } from "../hours";
import {
  type Choices,
  hoursOver,
  type IdleRule,
  idleRuleSchema,
  metricsRead,
  type Replayable,
  type Slots,
  slotsOf,
  suggested,
  sweepOf,
  tryMicrosOfText,
} from ".";
import { replay } from "./replay";
import { type Row, type SlowHours, slowReplay } from "./slow/reference";

const STEP = 5;
/** Thursday 11 March 2027, 05:00 UTC. */
const START = Date.UTC(2027, 2, 11, 5) / 1000;
const METRICS = ["cpu", "sessions.active", "sessions.disconnected"];

const value = fc.oneof(
  { weight: 6, arbitrary: fc.constantFrom("0", "1", "2", "3", "4") },
  fc.constantFrom("", "2.0000005", "2.0000015", "-1", "1.9999995", "1234567890123.4567895"),
);
/** Irregular: some slots are empty, some have several rows, rows come in any order. */
const rows = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 90 }), fc.integer({ min: 1, max: STEP * 60 }), fc.tuple(value, value, value)), {
    minLength: 40,
    maxLength: 160,
  })
  .chain((list) => fc.shuffledSubarray(list, { minLength: list.length }))
  .map((list): Row[] =>
    list.map(([slot, second, cells]) => ({
      at: START + slot * STEP * 60 + second,
      cells: Object.fromEntries(METRICS.map((metric, i) => [metric, cells[i] as string])),
    })),
  );
const condition = fc.record({
  metric: fc.constantFrom(...METRICS),
  statistic: fc.constantFrom("mean" as const, "max" as const, "p95" as const),
  op: fc.constantFrom("<" as const, "<=" as const, ">" as const, ">=" as const),
  threshold: fc.constantFrom(0, 1, 2, 2.000001, 3, 2.5),
  window: fc.constantFrom(5, 10, 15, 25, 60),
});
const ruleOf = (extra: Partial<Record<"action", fc.Arbitrary<IdleRule["action"]>>> = {}) =>
  fc.record({
    match: fc.constantFrom("all" as const, "any" as const),
    conditions: fc.array(condition, { minLength: 1, maxLength: 3 }),
    coverage: fc.constantFrom(0, 0.3, 0.5, 0.9, 1),
    warn: fc.constantFrom(0, 5, 7, 15),
    settle: fc.constantFrom(0, 5, 12, 20),
    interruptionWithin: fc.constantFrom(0, 10, 30),
    startMinutes: fc.constantFrom(0, 3, 10),
    step: fc.constant(STEP),
    action: extra.action ?? fc.constantFrom("stop" as const, "hibernate" as const, "tell" as const),
    applies: fc.constantFrom("always" as const, "inside" as const, "outside" as const),
  });
const schedule = compileSchedule(
  scheduleSchema.parse({
    name: "s",
    zone: "Europe/Oslo",
    outside: "off",
    rows: [{ day: "daily", spans: ["07:00-08:30", "09:10-09:45", "11:00-12:00"] }],
  }),
  undefined,
);
const leaving = compileSchedule(
  scheduleSchema.parse({
    name: "s",
    zone: "Europe/Oslo",
    outside: "leave",
    rows: [{ day: "daily", spans: ["07:00-08:30 x0", "09:10-09:45"] }],
  }),
  undefined,
);
const hours = fc.constantFrom(null, schedule, leaving);

function slotsFrom(list: readonly Row[], rule: IdleRule): Slots {
  const samples = list.flatMap(({ at, cells }) =>
    Object.entries(cells).map(([metric, text]) => ({ at, metric, value: text === "" ? null : tryMicrosOfText(text) })),
  );
  return slotsOf(samples, { stepS: STEP * 60, metrics: metricsRead(rule) }) as Slots;
}

function given(
  list: readonly Row[],
  rule: IdleRule,
  compiled: typeof schedule | null,
): { one: Replayable; slow: SlowHours | null } {
  const slots = slotsFrom(list, rule);
  const from = slots.firstEnd - slots.stepS;
  const to = slots.firstEnd + (slots.count - 1) * slots.stepS;
  if (!compiled) return { one: { slots, hours: null }, slow: null };
  const over = hoursOver(compiled, { from, to, leadMinutes: 0, ownSize: asLevel(1) });
  return { one: { slots, hours: over }, slow: { from, to, levelAt: (t) => levelAt(compiled, t, asLevel(1)).level } };
}

const plainly = (rule: IdleRule, compiled: unknown): IdleRule => (compiled ? rule : { ...rule, applies: "always" });

test("a replay agrees with the rules written down slowly, whatever samples are missing, late or doubled", () => {
  let trips = 0;
  let interruptions = 0;
  fc.assert(
    fc.property(rows, ruleOf(), hours, fc.boolean(), (list, anyRule, compiled, isAfterHours) => {
      const rule = plainly(anyRule, compiled);
      const { one, slow } = given(list, rule, compiled);
      const fast = replay(rule, one.slots, one.hours, { isAfterHours });
      const expected = slowReplay({ ...rule, step: STEP }, list, { hours: slow, isAfterHours });
      expect(fast.trips.map(({ offS: _, offDueS: __, startS: ___, ...trip }) => trip)).toEqual(expected.trips);
      const isTell = rule.action === "tell";
      expect([fast.offS, fast.offDueS]).toEqual(isTell ? [0, 0] : [expected.offS, expected.offDueS]);
      expect(fast.tripCount).toBe(expected.trips.length);
      trips += expected.trips.length;
      interruptions += fast.interruptions;
    }),
    { numRuns: 2500 },
  );
  // The property would hold of nothing, too.
  expect(trips).toBeGreaterThan(500);
  expect(interruptions).toBeGreaterThan(50);
});

test("a sweep is the replay of each point, over all resources, and the suggestion is the best that is allowed", () => {
  fc.assert(
    fc.property(fc.array(rows, { minLength: 1, maxLength: 3 }), ruleOf(), hours, fc.nat(2), (lists, anyRule, compiled, which) => {
      const rule = plainly(anyRule, compiled);
      const choices: Choices = { condition: which % rule.conditions.length, thresholds: [0, 2, 3], windows: [5, 25, 60] };
      const sweep = sweepOf(rule, choices);
      const resources = lists.map((list) => given(list, rule, compiled).one);
      for (const one of resources) sweep.add(one);
      for (const { threshold, window, ...sums } of sweep.points()) {
        const conditions = rule.conditions.map((own, i) => (i === choices.condition ? { ...own, threshold, window } : own));
        const each = resources.map((one) => replay({ ...rule, conditions }, one.slots, one.hours));
        const sum = (of: (one: (typeof each)[number]) => number) => each.reduce((total, one) => total + of(one), 0);
        expect(sums).toEqual({
          tripCount: sum((one) => one.tripCount),
          offS: sum((one) => one.offS),
          offDueS: sum((one) => one.offDueS),
          interruptions: sum((one) => one.interruptions),
        });
      }
      const { op } = rule.conditions[choices.condition] as IdleRule["conditions"][number];
      const asked = { weeks: sweep.weeks(), allowed: 20, op };
      const best = suggested(sweep.points(), asked);
      const fine = sweep.points().filter(({ offS, interruptions }) => offS > 0 && interruptions <= 20 * asked.weeks);
      expect(best?.offS ?? 0).toBe(Math.max(0, ...fine.map(({ offS }) => offS)));
    }),
    { numRuns: 150 },
  );
});

const rule = (more: Partial<IdleRule> = {}): IdleRule =>
  idleRuleSchema.parse({
    match: "all",
    conditions: [{ metric: "cpu", statistic: "mean", op: "<", threshold: 2, window: 10 }],
    step: 5,
    ...more,
  });
const minutesOf = (values: readonly string[]): Row[] => values.map((cpu, i) => ({ at: START + (i + 1) * 300, cells: { cpu } }));
const tripsOf = (values: readonly string[], more: Partial<IdleRule> = {}) => {
  const own = rule(more);
  const { trips } = replay(own, slotsFrom(minutesOf(values), own), null);
  return trips.map(({ trippedAt, backAt, interruption }) => [
    (trippedAt - START) / 300,
    backAt === null ? null : (backAt - START) / 300,
    interruption,
  ]);
};

test("a threshold that is met exactly, six places and a tie are decided as they are written", () => {
  expect(tripsOf(["2", "2"])).toEqual([]);
  expect(tripsOf(["2", "1.9999999"])).toEqual([]);
  expect(tripsOf(["2", "1.999999"])).toEqual([[2, null, false]]);
  expect(tripsOf(["2", "1.9999995"])).toEqual([]);
  expect(
    tripsOf(["0.1", "0.2"], { conditions: [{ metric: "cpu", statistic: "mean", op: "<=", threshold: 0.15, window: 10 }] }),
  ).toEqual([[2, null, false]]);
});

test("nobody is counted as off within the settle time after a return, and an onset close by is an interruption", () => {
  // Off at slot 2, somebody comes at 4, and the next window may begin there.
  expect(tripsOf(["0", "0", "0", "9", "0", "0", "0"])).toEqual([
    [2, 4, true],
    [6, null, false],
  ]);
  expect(tripsOf(["0", "0", "0", "9", "0", "0", "0"], { settle: 15 })).toEqual([
    [3, 4, true],
    [7, null, false],
  ]);
  expect(tripsOf(["0", "0", "0", "9", "0", "0", "0"], { interruptionWithin: 5 })).toEqual([
    [2, 4, false],
    [6, null, false],
  ]);
});

test("a window is a whole number of steps, a threshold a number, and nothing else is taken", () => {
  const issues = (more: object) => {
    const read = idleRuleSchema.safeParse({ ...rule(), ...more });
    return read.success ? [] : read.error.issues.map(({ path, message }) => `${path.join(".")}: ${message}`);
  };
  const one = { metric: "cpu", statistic: "mean", op: "<", threshold: 2, window: 10 };
  expect(issues({ conditions: [{ ...one, window: 12 }] })).toEqual([
    "conditions.0.window: a window of 12 min is no whole multiple of the step of 5 min",
  ]);
  expect(issues({ conditions: [{ ...one, window: 2.5 }] })).toHaveLength(1);
  expect(issues({ conditions: [{ ...one, threshold: Number.NaN }] })).toHaveLength(1);
  expect(issues({ conditions: [{ ...one, threshold: Number.POSITIVE_INFINITY }] })).toHaveLength(1);
  expect(issues({ conditions: [] })).toHaveLength(1);
  expect(issues({ coverage: 1.1 })).toHaveLength(1);
});
