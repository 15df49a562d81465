import fc from "fast-check";
import { expect, test } from "vitest";
import { type Amount, formatCents, type Micros, roundedCents, roundedShares, shareReader } from ".";

/** A hundredth of the currency as an exact amount. */
const CENT = 10_000n * 1000n * 3600n * 730n;
const amounts = (...cents: number[]) => cents.map((value) => BigInt(Math.round(value * 1000)) * (CENT / 1000n)) as Amount[];
const shown = (list: readonly Micros[]) => list.map(formatCents);

test("three thirds of a cent short are made good at the largest remainders, the earlier first", () => {
  expect(shown(roundedShares(amounts(100.333, 100.333, 100.333)))).toEqual(["1.01", "1.00", "1.00"]);
  expect(shown(roundedShares(amounts(0.4, 0.3, 0.3)))).toEqual(["0.01", "0.00", "0.00"]);
  expect(shown(roundedShares(amounts(10.9, 20.05, 30.05)))).toEqual(["0.11", "0.20", "0.30"]);
});

test("nothing is shown as nothing, and no lines need no cents", () => {
  expect(shown(roundedShares(amounts(0, 0)))).toEqual(["0.00", "0.00"]);
  expect(roundedShares([])).toEqual([]);
});

test("below zero the sum holds too", () => {
  const list = amounts(-1.4, -1.4, -1.4);
  expect(shown(roundedShares(list))).toEqual(["\u22120.01", "\u22120.01", "\u22120.02"]);
  expect(roundedCents(list)).toBe(-4n);
});

test("the lines of a group add up to what its heading shows, whatever the heading was given", () => {
  const groups = fc.array(fc.array(fc.bigInt({ min: 0n, max: CENT * 9000n }), { minLength: 1, maxLength: 12 }), {
    minLength: 1,
    maxLength: 8,
  });
  fc.assert(
    fc.property(groups, (raw) => {
      const sums = raw.map((lines) => lines.reduce((sum, line) => sum + line, 0n)) as Amount[];
      const headings = roundedShares(sums);
      expect(headings.reduce((sum, micros) => sum + micros, 0n)).toBe(roundedCents(sums) * 10_000n);
      raw.forEach((lines, i) => {
        const heading = (headings[i] as Micros) / 10_000n;
        const inner = roundedShares(lines as Amount[], heading);
        expect(inner.reduce((sum, micros) => sum + micros, 0n)).toBe(heading * 10_000n);
      });
    }),
  );
});

test("a share that is asked for alone is the one it has among all", () => {
  fc.assert(
    fc.property(fc.array(fc.bigInt({ min: 0n, max: CENT * 100n }), { minLength: 1, maxLength: 30 }), (raw) => {
      const list = raw as Amount[];
      const all = roundedShares(list);
      const shareOf = shareReader(list);
      list.forEach((_, i) => {
        expect(shareOf(i)).toBe(all[i]);
      });
    }),
  );
});
