import fc from "fast-check";
import { expect, test } from "vitest";
import { chanceOf } from "../../../tests/support/chance";
import { type Mix, mixSchema } from "./mix";
import { meanOf } from "./outcomes";
import { type MixFigures, mixFigures, simulateStretch } from "./simulate";
import { slowTrial } from "./slow/reference";

const DAY_MINUTES = 1440;

function mixOf(given: Record<string, unknown>): Mix {
  return mixSchema.parse({ wanted: 10, firm: 0, firmPrice: 1, eviction: "drop", order: "even", ...given });
}

const pool = (given: Record<string, unknown> = {}) => ({ name: "p", price: 0.3, ...given });

function figures(mix: Mix, { trials, days, seed = 1 }: { trials: number; days: number; seed?: number }): MixFigures {
  const done = simulateStretch(mix, { seed, days, first: 0, count: trials, fanPoints: 0 });
  return mixFigures(done.outcomes);
}

/** Seven standard errors of a share or of a mean, from what its trials can spread. */
const within = (spread: number, count: number) => (7 * spread) / Math.sqrt(count);

test("a slot that comes back after r hours is up 1 / (1 + lambda r) of the time, and is evicted lambda times of that", () => {
  const [lambda, hours] = [0.1, 2];
  const mix = mixOf({ pools: [pool({ hazard: lambda })], refillEveryMinutes: 5, provisionMinutes: hours * 60, floor: 9 });
  const { missingUnitHours, evictions, cost, atLeastFloor } = figures(mix, { trials: 400, days: 60 });
  const [all, up] = [60 * 24 * 10, 1 / (1 + lambda * hours)];
  // From everything up it takes some hours to settle: below a thousandth of sixty days.
  expect(1 - missingUnitHours.mean / all).toBeCloseTo(up, 2);
  expect(evictions.mean / all).toBeCloseTo(lambda * up, 2);
  expect(cost.mean / all / 0.3).toBeCloseTo(up, 2);
  // How many of ten are up is binomial.
  expect(Math.abs(atLeastFloor - (up ** 10 + 10 * up ** 9 * (1 - up)))).toBeLessThan(0.01);
});

test("with set-up s it is up exp(-lambda s) / (1 + lambda r), and billed 1 / (1 + lambda r)", () => {
  const [lambda, r, s] = [0.2, 0.5, 1.5];
  const mix = mixOf({
    pools: [pool({ hazard: lambda })],
    refillEveryMinutes: 5,
    provisionMinutes: r * 60,
    setupMinutes: s * 60,
  });
  const { missingUnitHours, cost } = figures(mix, { trials: 300, days: 60 });
  const all = 60 * 24 * 10;
  expect(1 - missingUnitHours.mean / all).toBeCloseTo(Math.exp(-lambda * s) / (1 + lambda * r), 2);
  expect(cost.mean / all / 0.3).toBeCloseTo(1 / (1 + lambda * r), 2);
});

test("a pool that is dry for ever loses each slot once, with chance 1 - exp(-lambda T)", () => {
  const mix = mixOf({ pools: [pool({ hazard: 0.01, availableHours: 0 })], refillEveryMinutes: 5 });
  const { evictions } = figures(mix, { trials: 4000, days: 3 });
  const chance = 1 - Math.exp(-0.01 * 72);
  expect(Math.abs(evictions.mean / 10 - chance)).toBeLessThan(within(Math.sqrt(chance * (1 - chance)), 40_000));
});

test("with all rates zero the cost is exact", () => {
  const mix = mixOf({ firm: 3, firmPrice: 0.1, pools: [pool({ price: 0.07 })] });
  const { cost, saving, missingUnitHours, atLeastFloor } = figures(mix, { trials: 3, days: 28 });
  expect(cost.mean).toBeCloseTo(672 * (3 * 0.1 + 7 * 0.07), 9);
  expect(saving.p5).toBeCloseTo(672 * 7 * 0.03, 9);
  expect({ missing: missingUnitHours.p95, atLeastFloor }).toEqual({ missing: 0, atLeastFloor: 1 });
});

test("a learned hazard is drawn once a trial: evictions spread as the Gamma and the Poisson say together", () => {
  const mix = mixOf({ pools: [pool({ hazard: { shape: 4, rate: 400 } })], refillEveryMinutes: 1 });
  const { evictions } = figures(mix, { trials: 6000, days: 10 });
  const machineHours = 2400;
  expect(Math.abs(evictions.mean - (4 / 400) * machineHours)).toBeLessThan(1.2);
  // Poisson alone would give 5 % and 95 % at 16 and 32.
  expect(evictions.p5).toBeLessThan(10);
  expect(evictions.p95).toBeGreaterThan(45);
});

test("the same seed gives the same, whoever runs which trials, and another seed another", () => {
  const mix = mixOf({ pools: [pool({ hazard: 0.05, reclaimRate: 0.02, reclaimShare: 0.5 })], refillEveryMinutes: 10 });
  const run = (first: number, count: number, seed = 7) =>
    simulateStretch(mix, { seed, days: 5, first, count, fanPoints: 0 }).outcomes.evictions;
  const whole = run(0, 40) as Float64Array;
  expect([...(run(0, 13) as Float64Array), ...(run(13, 27) as Float64Array)]).toEqual([...whole]);
  expect([...(run(0, 40, 8) as Float64Array)]).not.toEqual([...whole]);
});

const minutes = (most: number) => fc.integer({ min: 0, max: most / 5 }).map((fives) => fives * 5);
const price = fc.integer({ min: 1, max: 9 }).map((tenths) => tenths / 10);
/** Machines come and go by prices and hours alone: nothing is left to chance, and both must agree to the last minute. */
const certainPool = (name: string) =>
  fc.record({
    name: fc.constant(name),
    unitsPerMachine: fc.integer({ min: 1, max: 4 }),
    priceSeries: fc.array(price, { minLength: 1, maxLength: 9 }),
    cap: fc.option(fc.integer({ min: 2, max: 8 }).map((tenths) => tenths / 10)),
    availableHours: fc.constantFrom(null, null, null, 0),
    hazard: fc.constant(null),
  });
const steps = fc
  .array(fc.record({ length: fc.integer({ min: 1, max: 40 }), units: fc.integer({ min: 0, max: 12 }) }), {
    minLength: 1,
    maxLength: 8,
  })
  .map((list) => {
    let at = 0;
    return list.map(({ length, units }) => {
      const from = at;
      at += length * 0.25;
      return { from, to: at, units };
    });
  })
  .filter((list) => list.some(({ units }) => units > 2));
const settings = {
  eviction: fc.constantFrom("drop", "keep disks"),
  order: fc.constantFrom("even", "cheapest", "steadiest", "blend"),
  firm: fc.integer({ min: 0, max: 3 }),
  firmPrice: fc.constant(1),
  diskPrice: fc.constantFrom(null, 0.01),
  setupMinutes: minutes(60),
  provisionMinutes: minutes(30),
  refillEveryMinutes: fc.constantFrom(null, 5, 15, 35),
  fallbackAfterMinutes: fc.constantFrom(null, 0, 10, 45, 90),
  returnAfterMinutes: fc.constantFrom(null, 0, 30, 120),
  floor: fc.integer({ min: 0, max: 12 }),
};

test("without chance it agrees with the slow reference to the minute and the cent, whatever the mix", () => {
  const mixes = fc.record({ wanted: steps, pools: fc.tuple(certainPool("a"), certainPool("b"), certainPool("c")), ...settings });
  fc.assert(
    fc.property(mixes, (given) => {
      const mix = mixSchema.parse(given);
      const { outcomes } = simulateStretch(mix, { seed: 1, days: 1, first: 0, count: 1, fanPoints: 0 });
      const slow = slowTrial(mix, DAY_MINUTES, () => 0.5);
      expect({
        cost: outcomes.cost[0]?.toFixed(6),
        evictions: outcomes.evictions[0],
        missing: outcomes.missingUnitHours[0]?.toFixed(6),
        fallback: outcomes.fallbackHours[0]?.toFixed(6),
        longest: outcomes.longestShortfallHours[0]?.toFixed(6),
        refill: outcomes.refillMinutes[0]?.toFixed(6),
        atLeastFloor: outcomes.atLeastFloor[0]?.toFixed(6),
      }).toEqual({
        cost: slow.cost.toFixed(6),
        evictions: slow.evictions,
        missing: slow.missingUnitHours.toFixed(6),
        fallback: slow.fallbackHours.toFixed(6),
        longest: slow.longestShortfallHours.toFixed(6),
        refill: (slow.refillMinutes ?? Number.NaN).toFixed(6),
        atLeastFloor: slow.atLeastFloor.toFixed(6),
      });
    }),
    { numRuns: 300 },
  );
}, 120_000);

const rate = (most: number) => fc.integer({ min: 0, max: 10 }).map((tenths) => (tenths * most) / 10);
const chancyPool = (name: string) =>
  fc.record({
    name: fc.constant(name),
    unitsPerMachine: fc.integer({ min: 1, max: 3 }),
    price,
    hazard: rate(0.1),
    reclaimRate: rate(0.05),
    reclaimShare: rate(1),
    availableHours: fc.constantFrom(null, 10),
    dryHours: fc.constantFrom(null, 4),
    dryHazardFactor: fc.constantFrom(null, 3),
  });

test("with chance its means are those of the slow reference, within what so many trials spread", () => {
  const mixes = fc.record({ wanted: steps, pools: fc.tuple(chancyPool("a"), chancyPool("b")), ...settings });
  const trials = 300;
  const chance = chanceOf(20270311);
  fc.assert(
    fc.property(mixes, (given) => {
      const mix = mixSchema.parse(given);
      const { outcomes } = simulateStretch(mix, { seed: 3, days: 0.5, first: 0, count: 4 * trials, fanPoints: 0 });
      const slow = Array.from({ length: trials }, () =>
        slowTrial(mix, DAY_MINUTES / 2, () => (chance.int(0, 999_999_999) + 0.5) / 1e9),
      );
      for (const measure of ["cost", "evictions", "missingUnitHours", "fallbackHours", "atLeastFloor"] as const) {
        const values = slow.map((trial) => trial[measure]);
        const mean = values.reduce((a, b) => a + b, 0) / trials;
        const spread = Math.sqrt(values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / trials);
        // A minute is a coarse step: what lasts minutes may be off by one in some dozens.
        const allowed = within(spread, trials) + 0.02 * mean + 0.02;
        expect([measure, Math.abs(meanOf(outcomes[measure] as Float64Array) - mean) <= allowed]).toEqual([measure, true]);
      }
    }),
    { numRuns: 12, seed: 14 },
  );
}, 120_000);
