import fc from "fast-check";
import { expect, test } from "vitest";
import { type Discount, discountOn, tryParsePercent } from ".";
import { discounted } from "./discounts";

const DISCOUNT: Discount = {
  id: 1,
  provider: "p1",
  item: "compute",
  size: "",
  purchase: "firm",
  percent: "10",
  fromDay: "2027-03-01",
  toDay: "2027-03-02",
};
const PRICE = { provider: "p1", item: "compute" as const, size: "sloop-4", purchase: "firm" };
const day = (n: number) => Date.UTC(2027, 2, n) / 1000;

test("it counts on its days, for what it names, and of several the largest alone", () => {
  const on = (t: number, more: Partial<typeof PRICE> = {}, list: readonly Discount[] = [DISCOUNT]) =>
    discountOn(list, { ...PRICE, ...more }, t);
  expect(on(day(1) - 1)).toBeNull();
  expect(on(day(1))).toBe(10_000_000n);
  expect(on(day(3) - 1)).toBe(10_000_000n);
  expect(on(day(3))).toBeNull();
  expect(on(day(1), { provider: "p2" })).toBeNull();
  expect(on(day(1), { purchase: "spot" })).toBeNull();
  expect(on(day(1), {}, [DISCOUNT, { ...DISCOUNT, percent: "12.5" }, { ...DISCOUNT, percent: "3" }])).toBe(12_500_000n);
});

test.each(["0", "-1", "100.1", "ten", "", "1e1"])("%j is no share", (text) => expect(tryParsePercent(text)).toBeNull());

test("a rate less a share is exact to nine decimals, and never above the rate or below nothing", () => {
  expect(discounted("1.142", 10_000_000n)).toBe("1.027800000");
  expect(discounted("0.000000001", 50_000_000n), "half to even").toBe("0.000000000");
  fc.assert(
    fc.property(fc.nat(2_000_000_000), fc.integer({ min: 1, max: 100_000_000 }), (nano, percent) => {
      const rate = (nano / 1e9).toFixed(9);
      const left = Number(discounted(rate, BigInt(percent)));
      expect(left).toBeGreaterThanOrEqual(0);
      expect(left).toBeLessThanOrEqual(Number(rate));
      expect(left).toBeCloseTo(Number(rate) * (1 - percent / 1e8), 8);
    }),
  );
});
