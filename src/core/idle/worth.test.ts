import fc from "fast-check";
import { expect, test } from "vitest";
import { asLevel, compileSchedule, scheduleSchema } from "../hours";
import {
  envelopeOf,
  hoursOver,
  type IdleRule,
  idleRuleSchema,
  packSamples,
  replay,
  type Samples,
  slotsIn,
  spreadOver,
  unpackSamples,
  weekEdges,
  weeklyWorth,
} from ".";

const DAY = 86_400;
const WEEK = 7 * DAY;
const STEP = 1800;
/** Sunday 28 February 2027 in UTC: three whole weeks in Oslo follow. */
const FROM = Date.UTC(2027, 1, 28) / 1000;
const COUNT = (23 * DAY) / STEP;
const rule = (more: object): IdleRule =>
  idleRuleSchema.parse({
    match: "all",
    conditions: [{ metric: "cpu", statistic: "mean", op: "<", threshold: 2, window: 60 }],
    startMinutes: 7,
    ...more,
  });
const RULES = [
  rule({}),
  rule({ conditions: [{ metric: "cpu", statistic: "max", op: "<", threshold: 3, window: 30 }], warn: 30 }),
];
const compiled = compileSchedule(
  scheduleSchema.parse({
    name: "s",
    zone: "Europe/Oslo",
    outside: "off",
    rows: [
      { day: "workdays", spans: ["07:00-19:00"] },
      { day: "sat", spans: ["08:00-12:00 x0"] },
    ],
  }),
  undefined,
);

const samplesOf = (values: readonly (number | null)[]): Samples => ({
  head: {
    stepS: STEP,
    firstEnd: FROM + STEP,
    count: COUNT,
    knownFrom: FROM,
    metrics: ["cpu"],
    latenessS: [null],
    resources: [{ id: "m", name: "m", owner: null, trips: [] }],
  },
  values: Float32Array.from({ length: COUNT }, (_, i) => values[i % values.length] ?? Number.NaN),
});
const courses = fc.array(fc.constantFrom(0, 0, 1, 1, 5, null), { minLength: 40, maxLength: 200 }).map(samplesOf);

test("what rules take off in a week is counted half an hour by half an hour: never twice, only where it would have been on", () => {
  let seconds = 0;
  fc.assert(
    fc.property(courses, fc.constantFrom("none", "by plan", "by hand"), (samples, kind) => {
      const slots = slotsIn(samples, 0, ["cpu"]);
      const to = FROM + COUNT * STEP;
      const hours = kind === "none" ? null : hoursOver(compiled, { from: FROM, to, leadMinutes: 0, ownSize: asLevel(1) });
      const edges = weekEdges("Europe/Oslo", { from: FROM, to });
      expect(edges.length).toBe(4);
      const worth = weeklyWorth(RULES, { slots, hours, isByHand: kind === "by hand" }, edges);
      const trips = RULES.flatMap((one) => replay(one, slots, hours, { isAfterHours: true }).trips);
      for (let w = 0; w < 3; w++) {
        const [begin, end] = [edges[w] as number, edges[w + 1] as number];
        let off = 0;
        for (let i = 0; i < COUNT; i++) {
          const at = FROM + i * STEP;
          if (at < begin || at >= end || !trips.some(({ trippedAt, backAt }) => trippedAt <= at && at < (backAt ?? to))) continue;
          const level = hours ? (hours.spans.find((span) => span.from <= at && at < span.to)?.level ?? 0) : null;
          const ran = !Number.isNaN(samples.values[i] as number);
          if (level === null ? ran : level > 0 && (kind === "by plan" || ran)) off += STEP;
        }
        const back = trips.filter(({ backAt }) => (backAt ?? to) > begin && (backAt ?? to) <= end);
        expect(worth.offS[w]).toBe(back.reduce((left, { startS }) => Math.max(0, left - startS), off));
        expect(worth.interruptions[w]).toBe(back.filter(({ interruption }) => interruption).length);
        seconds += off;
      }
      // By hours of the week it is the same, but for what starting again took.
      const byHour = worth.byHour();
      expect(byHour).toHaveLength(168);
      expect(byHour.every((own) => own >= 0 && own <= 3600)).toBe(true);
      const starting = trips.reduce((sum, { startS }) => sum + startS, 0);
      const [all, told] = [byHour.reduce((sum, own) => sum + own, 0) * 3, worth.offS.reduce((sum, own) => sum + own, 0)];
      expect(all).toBeGreaterThanOrEqual(told - 1e-6);
      expect(all).toBeLessThanOrEqual(told + starting + 1e-6);
    }),
    { numRuns: 120 },
  );
  expect(seconds).toBeGreaterThan(100 * DAY);
});

test("a spread is that of drawn weeks: the same for the same seed, in order, and exact where all weeks are alike", () => {
  expect(spreadOver([10, 10, 10], 4.5 * WEEK, 1)).toEqual({ p5: 45, p50: 45, p95: 45 });
  expect(spreadOver([], WEEK, 1)).toEqual({ p5: 0, p50: 0, p95: 0 });
  const spread = spreadOver([0, 10, 20, 70], 30 * DAY, 3);
  expect(spread).toEqual(spreadOver([0, 10, 20, 70], 30 * DAY, 3));
  expect(spread.p5).toBeLessThan(spread.p50);
  expect(spread.p50).toBeLessThan(spread.p95);
  expect(spread.p50).toBeGreaterThan(60);
  expect(spread.p50).toBeLessThan(160);
});

test("weeks are whole local ones, through a clock change too; fewer than one are none", () => {
  const edges = weekEdges("Europe/Oslo", { from: Date.UTC(2027, 2, 20) / 1000, to: Date.UTC(2027, 3, 6) / 1000 });
  expect(edges.map((edge) => new Date(edge * 1000).toISOString())).toEqual([
    "2027-03-21T23:00:00.000Z",
    "2027-03-28T22:00:00.000Z",
    "2027-04-04T22:00:00.000Z",
  ]);
  expect(weekEdges("UTC", { from: Date.UTC(2027, 2, 2) / 1000, to: Date.UTC(2027, 2, 14) / 1000 })).toEqual([]);
});

test("samples cross as bytes unchanged, and an envelope is the percentiles of each stretch", () => {
  fc.assert(
    fc.property(courses, fc.integer({ min: 1, max: 90 }), (samples, bins) => {
      const bytes = packSamples(samples);
      const back = unpackSamples(bytes.buffer);
      expect(back.head).toEqual(samples.head);
      expect([...back.values]).toEqual([...samples.values]);
      const { bins: drawn, binS, from } = envelopeOf(samples, { metric: "cpu", resource: null, bins });
      expect(from).toBe(FROM);
      drawn.forEach((bin, b) => {
        const own = [...samples.values.subarray((b * binS) / STEP, ((b + 1) * binS) / STEP)]
          .filter((value) => !Number.isNaN(value))
          .sort((x, y) => x - y);
        const rank = (p: number) => own[Math.ceil((own.length * p) / 100) - 1];
        expect(bin).toEqual(own.length === 0 ? null : { p5: rank(5), p50: rank(50), p95: rank(95) });
      });
    }),
    { numRuns: 60 },
  );
});
