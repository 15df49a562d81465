import fc from "fast-check";
import { expect, test } from "vitest";
import { choicesFor, choicesOf, chosenPoint, everyChoice, type FrontierPoint, onFrontier, withChoice } from "./frontier";
import { mixSchema, mostWanted } from "./mix";
import { meanOf } from "./outcomes";
import { simulateStretch } from "./simulate";

const MIX = mixSchema.parse({
  wanted: 3,
  firm: 1,
  firmPrice: 1,
  eviction: "drop",
  order: "cheapest",
  provisionMinutes: 30,
  refillEveryMinutes: 5,
  pools: [
    { name: "a", price: 0.3, hazard: 0.2 },
    { name: "b", price: 0.4, hazard: 0.05 },
  ],
});

test("every number of firm units with each pool alone and all together; all firm is one point", () => {
  expect(choicesOf(MIX).map(({ firm, pools, order }) => `${firm} ${pools.join("+")} ${order}`)).toEqual([
    ...[0, 1, 2].flatMap((firm) => [`${firm} a cheapest`, `${firm} b cheapest`, `${firm} a+b cheapest`]),
    "3  null",
  ]);
  expect(choicesOf(MIX, { firm: [3, 0], poolSets: [["b", "a"]], orders: ["even", "blend"] })).toEqual([
    { firm: 3, pools: [], order: null },
    { firm: 0, pools: ["a", "b"], order: "even" },
    { firm: 0, pools: ["a", "b"], order: "blend" },
  ]);
});

test("choices that the mix cannot have are refused at their place", () => {
  const issues = (given: unknown) =>
    choicesFor(MIX)
      .safeParse(given)
      .error?.issues.map(({ path, message }) => `${path.join(".")}: ${message}`);
  expect(issues({ firm: [4] })).toEqual(["firm.0: 4 firm units are above the 3 that are ever wanted"]);
  expect(issues({ poolSets: [["a", "c"]] })).toEqual(['poolSets.0.1: no pool is named "c"; there are a, b']);
  expect(issues({ firm: [1, 1] })).toEqual(["firm.1: the same number is given twice"]);
});

const points = fc.array(fc.record({ cost: fc.integer({ min: 0, max: 6 }), missingUnitHours: fc.integer({ min: 0, max: 6 }) }), {
  maxLength: 40,
});

test("a point is on the frontier when no other is at most as dear and as short, and less in one: each held against each", () => {
  fc.assert(
    fc.property(points, (list) => {
      const slow = list.map((a) =>
        list.every(
          (b) =>
            b.cost > a.cost ||
            b.missingUnitHours > a.missingUnitHours ||
            (b.cost === a.cost && b.missingUnitHours === a.missingUnitHours),
        ),
      );
      expect(onFrontier(list)).toEqual(slow);
    }),
  );
});

test("the cheapest with the share is chosen; of equals the one that lacks least, then most firm, then first; or none", () => {
  const point = (given: Partial<FrontierPoint>): FrontierPoint => ({
    firm: 0,
    pools: [],
    order: null,
    cost: 5,
    missingUnitHours: 1,
    atLeastFloor: 0.99,
    ...given,
  });
  const list = [point({ cost: 4, atLeastFloor: 0.9 }), point({}), point({ firm: 2 }), point({ firm: 2, pools: ["late"] })];
  expect(chosenPoint(list, 0.99)).toBe(list[2]);
  expect(chosenPoint([...list, point({ missingUnitHours: 0 })], 0.99)).toMatchObject({ missingUnitHours: 0 });
  expect(chosenPoint(list, 0.999)).toBeNull();
});

test("points share their luck: what happens to a pool alone does not depend on which others are in the mix", () => {
  const run = (firm: number, pools: string[]) => {
    const mix = withChoice(MIX, { firm, pools, order: "cheapest" });
    return simulateStretch(mix, { seed: 5, days: 7, first: 0, count: 50, fanPoints: 0 }).outcomes.evictions;
  };
  // The cheapest alone is what a mix of both takes as long as it can be had.
  expect([...run(1, ["a", "b"])]).toEqual([...run(1, ["a"])]);
  expect(meanOf(run(1, ["a"]))).toBeGreaterThan(meanOf(run(1, ["b"])));
});

test("more firm units never lack more", () => {
  const missing = [0, 1, 2].map((firm) => {
    const mix = withChoice(MIX, { firm, pools: ["a"], order: "even" });
    const done = simulateStretch(mix, { seed: 5, days: 28, first: 0, count: 100, fanPoints: 0 });
    return meanOf(done.outcomes.missingUnitHours);
  });
  expect(missing).toEqual([...missing].sort((a, b) => b - a));
});

test("every choice: all pools by every order, each alone once, all firm once; and nothing twice", () => {
  const every = everyChoice(MIX);
  const most = mostWanted(MIX.wanted);
  const spelt = every.map((choice) => JSON.stringify(choice));
  expect(new Set(spelt).size).toBe(spelt.length);
  expect(every).toHaveLength(most * (4 + MIX.pools.length) + 1);
  // Whatever stands in the frontier of the command's own choices stands here too.
  for (const { firm, pools } of choicesOf(MIX)) expect(every).toContainEqual(expect.objectContaining({ firm, pools }));
  const free = { ...MIX, pools: MIX.pools.map((pool) => ({ ...pool, price: 0 })) };
  // At a price of nothing nothing can be blended.
  expect(everyChoice(free).some(({ order }) => order === "blend")).toBe(false);
});
