import fc from "fast-check";
import { expect, test } from "vitest";
import {
  billedSeconds,
  type Decimal,
  divideHalfEven,
  formatCents,
  formatMicros,
  type Micros,
  runCost,
  tryParseDecimal,
  tryParseHourRate,
} from ".";

const rate = (text: string) => tryParseDecimal(text) as Decimal;
const cost = (seconds: number, text: string, granularityS = 1, minimumS = 0, level = 1) =>
  formatMicros(runCost(seconds, rate(text), { billing: { granularityS, minimumS }, level }).cost);

test("a run is billed up to a whole granule, and at least the minimum", () => {
  expect(billedSeconds(61, { granularityS: 60, minimumS: 60 })).toBe(120);
  expect(billedSeconds(60, { granularityS: 60, minimumS: 60 })).toBe(60);
  expect(billedSeconds(1, { granularityS: 1, minimumS: 60 })).toBe(60);
  expect(billedSeconds(3601, { granularityS: 3600, minimumS: 0 })).toBe(7200);
});

test("a run of no length is wrong input", () => {
  expect(() => billedSeconds(0, { granularityS: 1, minimumS: 0 })).toThrow(RangeError);
  expect(() => billedSeconds(-5, { granularityS: 1, minimumS: 0 })).toThrow(RangeError);
  expect(() => billedSeconds(5, { granularityS: 0, minimumS: 0 })).toThrow(RangeError);
});

test("cost is exact, and rounded once, half to even", () => {
  expect(cost(3600, "0.1")).toBe("0.100000");
  expect(cost(1, "0.0018")).toBe("0.000000"); // half a millionth rounds to the even nought
  expect(cost(3, "0.0018")).toBe("0.000002"); // one and a half to two
  expect(cost(3600, "123456789012.123456789")).toBe("123456789012.123457");
  expect(cost(3600, "0.3", 1, 0, 7)).toBe("2.100000");
  expect(cost(3600, "5", 1, 0, 0)).toBe("0.000000");
});

test("rounding half to even agrees with a slow twin", () => {
  fc.assert(
    fc.property(fc.bigInt(-(10n ** 12n), 10n ** 12n), fc.bigInt(1n, 10n ** 6n), (n, d) => {
      const rounded = divideHalfEven(n, d);
      const off = 2n * (n - rounded * d);
      const size = off < 0n ? -off : off;
      expect(size <= d).toBe(true);
      if (size === d) expect(rounded % 2n).toBe(0n);
    }),
    { numRuns: 1000, seed: 36 },
  );
});

test.each(["-1", "1e3", "1.", ".5", "1,5", "", " 1"])("%o is not a decimal", (text) => {
  expect(tryParseDecimal(text)).toBeNull();
});

test("a rate of the book has at most nine decimals", () => {
  expect(tryParseHourRate("0.123456789")).toBe(123456789n);
  expect(tryParseHourRate("0.1234567890")).toBe(123456789n);
  expect(tryParseHourRate("0.1234567891")).toBeNull();
});

test("money for people has two decimals and its thousands apart", () => {
  expect(formatCents(1234567890000n as Micros)).toBe("1\u00a0234\u00a0567.89");
  expect(formatCents(-5000n as Micros)).toBe("0.00");
  expect(formatCents(-1500000n as Micros)).toBe("\u22121.50");
  expect(formatMicros(-1n as Micros)).toBe("-0.000001");
});
