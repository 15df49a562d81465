import { expect, test } from "vitest";
import { mixSchema } from "./mix";
import { pricesAhead, weeksOf, weeksSeen, withPricesAgain, withPricesAhead } from "./prices-ahead";

const week = (price: number) => Array.from({ length: 168 }, (_, h) => price + (h % 24 < 12 ? 0 : 0.01));
const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
const MIX = mixSchema.parse({
  wanted: 2,
  firm: 0,
  firmPrice: 1,
  eviction: "drop",
  order: "even",
  pools: [
    { name: "ketch-8 a", price: 0.3 },
    { name: "ketch-8 b", price: 0.3, cap: 0.4 },
    { name: "still c", price: 0.2 },
    { name: "unseen", price: 0.1 },
  ],
});

test("weeks are counted back from now; a beginning that is no week is left out", () => {
  const prices = [9, 9, ...week(0.1), ...week(0.2)];
  expect(weeksOf(prices)).toEqual([week(0.2), week(0.1)]);
  expect(weeksOf([0.1])).toEqual([]);
});

test("the weeks that are known of a mix are those of the pool of which least is", () => {
  const [first, second] = MIX.pools;
  const two = { ...MIX, pools: [first, second].filter((pool) => pool !== undefined) };
  const seen = { "ketch-8 a": [...week(0.1), ...week(0.2)], "ketch-8 b": [...week(0.1), 0.3] };
  expect(weeksSeen(two, seen)).toBe(1);
  expect(weeksSeen(MIX, seen)).toBe(0);
  expect(weeksSeen({ ...MIX, firm: 2, pools: [] }, seen)).toBeNull();
});

test("over many turns prices lie about those that were seen, wider than any one week says, and each turn is its own", () => {
  const weeks = [0.2, 0.25, 0.3, 0.45].map(week);
  const turns = Array.from({ length: 400 }, (_, turn) => mean(pricesAhead(weeks, { size: "ketch-8", turn, count: 1 })));
  expect(mean(turns)).toBeCloseTo(mean(weeks.flat()), 1);
  expect(Math.max(...turns)).toBeGreaterThan(0.45);
  expect(new Set(turns.map((turn) => turn.toFixed(6))).size).toBeGreaterThan(20);
  // The hours of a week stay in their order: the second half of each day is dearer.
  const [first = 0, second = 0] = [0, 12].map((h) => pricesAhead(weeks, { size: "ketch-8", turn: 3, count: 2 })[h]);
  expect(second).toBeGreaterThan(first);
});

test("pools whose price moved get what may come, one size the same in all zones, caps stay; the others keep their price", () => {
  const seen = {
    "ketch-8 a": [...week(0.2), ...week(0.3)],
    "ketch-8 b": [...week(0.2), ...week(0.3)],
    "still c": Array.from({ length: 400 }, () => 0.2),
  };
  const laid = withPricesAhead(MIX, seen, { turn: 1, days: 7 });
  expect(mixSchema.parse(laid)).toEqual(laid);
  const [a, b, still, unseen] = laid.pools;
  expect(a?.priceSeries).toHaveLength(168);
  expect(a?.priceSeries).toEqual(b?.priceSeries);
  expect({ price: b?.price, cap: b?.cap }).toEqual({ price: undefined, cap: 0.4 });
  expect([still, unseen]).toEqual(MIX.pools.slice(2));
  expect(withPricesAhead(MIX, seen, { turn: 2, days: 28 }).pools[0]?.priceSeries).toHaveLength(672);
  // As they were: from the oldest on, and again.
  expect(withPricesAgain(MIX, seen, 18).pools[0]?.priceSeries).toEqual([...week(0.2), ...week(0.3), ...week(0.2).slice(0, 96)]);
});
