import { expect, test } from "vitest";
import { trialSeconds } from "./effort";
import { type Mix, mixSchema } from "./mix";
import { simulateStretch } from "./simulate";

const mixOf = (more: object, pool: object = {}): Mix =>
  mixSchema.parse({
    wanted: 40,
    firm: 10,
    firmPrice: 0.2,
    eviction: "drop",
    provisionMinutes: 5,
    order: "even",
    pools: [{ name: "a", price: 0.05, hazard: 0.05, ...pool }],
    ...more,
  });

test.each([
  ["a quiet one", mixOf({}), 28],
  ["many evictions", mixOf({ wanted: 300, firm: 0 }, { hazard: 2 }), 2],
  ["prices of each hour", mixOf({}, { price: undefined, priceSeries: [0.04, 0.05] }), 90],
  ["spells", mixOf({ refillEveryMinutes: 5 }, { availableHours: 20, dryHours: 4 }), 90],
])("what a trial takes is said beforehand, to an order of magnitude: %s", (_, mix, days) => {
  const run = (count: number) => {
    const began = performance.now();
    simulateStretch(mix, { seed: 1, days, first: 0, count, fanPoints: 0 });
    return (performance.now() - began) / 1000 / count;
  };
  run(20);
  const took = Math.min(run(50), run(50), run(50));
  const said = trialSeconds(mix, days);
  // Told too high rather than too low, whatever the machine.
  expect(said).toBeGreaterThan(took / 6);
  expect(said).toBeLessThan(took * 12);
});
