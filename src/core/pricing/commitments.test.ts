import fc from "fast-check";
import { expect, test } from "vitest";
import { aMachine } from "../../../tests/support/make";
import { asLevel } from "../hours";
import { type Amount, type Commitment, countsAt, coverEach, coveredUnitSeconds, covers, feePerSecond } from ".";

const COMMITMENT: Commitment = {
  id: 1,
  provider: "p1",
  account: "",
  region: "fjord-1",
  size: "sloop-4",
  units: 3,
  feePerHour: "1.5",
  fromDay: "2027-01-01",
  toDay: "2027-03-31",
};
const at = (...parts: [number, number, number, number?]) => Date.UTC(parts[0], parts[1] - 1, parts[2], parts[3] ?? 0) / 1000;

test("it counts from the first second of its first day to the last of its last, UTC", () => {
  expect(countsAt(COMMITMENT, at(2026, 12, 31, 23))).toBe(false);
  expect(countsAt(COMMITMENT, at(2027, 1, 1))).toBe(true);
  expect(countsAt(COMMITMENT, at(2027, 4, 1) - 1)).toBe(true);
  expect(countsAt(COMMITMENT, at(2027, 4, 1))).toBe(false);
});

test("it covers firm machines and groups of its size, region and account, and nothing else", () => {
  expect(covers(COMMITMENT, aMachine())).toBe(true);
  expect(covers(COMMITMENT, aMachine({ kind: "group", level: asLevel(4), levelMax: 8 }))).toBe(true);
  expect(covers(COMMITMENT, aMachine({ kind: "service" }))).toBe(false);
  expect(covers(COMMITMENT, aMachine({ provider: "p2" }))).toBe(false);
  expect(covers({ ...COMMITMENT, account: "a1" }, aMachine())).toBe(true);
  expect(covers({ ...COMMITMENT, account: "other" }, aMachine())).toBe(false);
  expect(covers({ ...COMMITMENT, size: "ketch-8" }, aMachine())).toBe(false);
  expect(covers({ ...COMMITMENT, region: "tasman-2" }, aMachine())).toBe(false);
  const spot = { kind: "machine", fields: { ...aMachine().fields, purchase: "spot" } };
  expect(covers(COMMITMENT, spot)).toBe(false);
});

test("its fee is exact by the second, and one that was never checked is our own mistake", () => {
  expect(feePerSecond(COMMITMENT) * 3600n).toBe(15n * 10n ** 8n * 730n * 3600n);
  expect(() => feePerSecond({ ...COMMITMENT, feePerHour: "1,5" })).toThrow("checked when it is read");
  expect(() => countsAt({ ...COMMITMENT, fromDay: "soon" }, 0)).toThrow("checked when it is read");
});

const wanted = fc.array(fc.record({ units: fc.integer({ min: 1, max: 9 }), compute: fc.bigInt({ min: 0n, max: 10n ** 15n }) }), {
  maxLength: 8,
});

test("who is covered pays no more than before and no less than nothing; with room for all nobody pays", () => {
  fc.assert(
    fc.property(wanted, fc.nat(40), (raw, covered) => {
      const given = raw as { units: number; compute: Amount }[];
      const shares = coverEach(given, covered);
      const units = given.reduce((sum, one) => sum + one.units, 0);
      shares.forEach((share, i) => {
        const { compute } = given[i] as (typeof given)[number];
        expect(share >= 0n && share <= compute).toBe(true);
        if (covered >= units) expect(share).toBe(compute);
      });
      if (covered === 0 && units > 0) expect(shares.every((share) => share === 0n)).toBe(true);
    }),
  );
});

test("the integral under a cover is what counting second by second gives", () => {
  const stretches = fc.array(
    fc.tuple(fc.nat(200), fc.integer({ min: 1, max: 100 }), fc.integer({ min: 1, max: 5 })).map(([from, length, level]) => ({
      from,
      to: from + length,
      level,
    })),
    { maxLength: 10 },
  );
  fc.assert(
    fc.property(stretches, fc.nat(12), (given, covered) => {
      let slow = 0;
      for (let t = 0; t < 320; t++) {
        slow += Math.min(
          covered,
          given.reduce((sum, { from, to, level }) => sum + (from <= t && t < to ? level : 0), 0),
        );
      }
      expect(coveredUnitSeconds(given, covered)).toBe(slow);
    }),
  );
});
