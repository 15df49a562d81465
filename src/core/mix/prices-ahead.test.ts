import { expect, test } from "vitest";
import { mixSchema } from "./mix";
import { daysSeen, pricesAhead, weeksOf, weeksSeen, withNextDay, withPricesAgain, withPricesAhead } from "./prices-ahead";

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

test("the next day is where prices are now, moved as they moved on one of the days before; never below nothing", () => {
  const day = (from: number, by: number) => Array.from({ length: 24 }, (_, h) => from + (h < 12 ? 0 : by));
  // 0.2, then half a day later 0.3; then 0.05 as before the day, and up again by 0.01.
  const seen = { "ketch-8 a": [0.2, ...day(0.2, 0.1), ...day(0.05, 0.01)], "ketch-8 b": [0.3, ...day(0.3, -0.2)], unseen: [0.1] };
  expect(daysSeen(MIX, seen)).toBe(2);
  const of = (turn: number, hours = 24) =>
    Object.fromEntries(
      mixSchema
        .parse(withNextDay(MIX, seen, { turn, hours }))
        .pools.map(({ name, price, priceSeries }) => [name, priceSeries ?? price]),
    );
  const [last, before] = [of(0), of(1)];
  // The day before began at 0.3 and fell by a quarter of it at once, to where no price is.
  expect(last["ketch-8 a"]).toEqual(Array.from({ length: 24 }, (_, h) => Math.max(0, 0.06 + (h < 12 ? 0.05 : 0.06) - 0.3)));
  expect(last["ketch-8 b"]).toHaveLength(24);
  expect((before["ketch-8 a"] as number[]).map((price) => price.toFixed(6))).toEqual(
    Array.from({ length: 24 }, (_, h) => (0.06 + (h < 12 ? 0 : 0.1)).toFixed(6)),
  );
  // Of the second only one day was seen, of the others none.
  expect([before["ketch-8 b"], before["still c"], before.unseen]).toEqual([0.3, 0.2, 0.1]);
  expect(of(0, 25)["ketch-8 b"]).toHaveLength(25);
});
