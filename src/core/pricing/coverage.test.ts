import fc from "fast-check";
import { expect, test } from "vitest";
import { DAY_S } from "../time";
import { type AmountPerSecond, type Commitment, type CoverRun, coverAt, coverOver, WHOLE_SHARE } from ".";

const START = Date.UTC(2027, 2, 10) / 1000;
const commitment = (id: number, more: Partial<Commitment> = {}): Commitment => ({
  id,
  provider: "p1",
  account: "",
  region: "fjord-1",
  size: "sloop-4",
  units: 2,
  feePerHour: "1",
  fromDay: "2027-01-01",
  toDay: "2027-12-31",
  ...more,
});
const one = (account: string, size = "sloop-4") => ({
  kind: "machine",
  fields: { provider: "p1", account, region: "fjord-1", size, purchase: "firm" },
});
const share = (n: bigint) => Number((n * 1000n) / WHOLE_SHARE) / 1000;

test("two commitments for the same machines never pay for one of them twice", () => {
  const runs = [1, 2, 3].map(() => ({ one: one("a1"), level: 1 }));
  const both = coverAt([commitment(1), commitment(2)], runs);
  expect(both.shares.map(share)).toEqual([1, 1, 1]);
  expect(both.used).toEqual([2, 1]);
  expect(coverAt([commitment(1)], runs).shares.map(share)).toEqual([0.666, 0.666, 0.666]);
});

test("a commitment of one account counts before one of any, whatever their numbers", () => {
  const runs = [
    { one: one("a1"), level: 2 },
    { one: one("a2"), level: 2 },
  ];
  const { shares, used } = coverAt([commitment(1, { units: 2 }), commitment(7, { account: "a1", units: 2 })], runs);
  expect(shares.map(share)).toEqual([1, 1]);
  expect(used).toEqual([2, 2]);
});

test("what is off, of another size or without a commitment is not paid for", () => {
  expect(
    coverAt(
      [commitment(1)],
      [
        { one: one("a1"), level: 0 },
        { one: one("a1", "ketch-8"), level: 1 },
      ],
    ),
  ).toEqual({
    shares: [0n, 0n],
    used: [0],
  });
  expect(coverAt([], [{ one: one("a1"), level: 1 }]).shares).toEqual([0n]);
});

const accounts = fc.constantFrom("a1", "a2", "a3");
const someCommitments = fc.array(
  fc.record({
    account: fc.constantFrom("", "a1", "a2"),
    units: fc.integer({ min: 1, max: 4 }),
    days: fc.integer({ min: 0, max: 2 }),
  }),
  { maxLength: 4 },
);
const someRuns = fc.array(
  fc.record({
    account: accounts,
    from: fc.integer({ min: 0, max: 60 }),
    length: fc.integer({ min: 1, max: 60 }),
    level: fc.integer({ min: 1, max: 3 }),
    price: fc.integer({ min: 1, max: 1000 }),
    count: fc.integer({ min: 1, max: 3 }),
  }),
  { maxLength: 7 },
);

/** A step of an hour at a time: each commitment in its order pays for what is still open, unit by unit, in equal shares. */
function slowly(commitments: readonly Commitment[], runs: readonly CoverRun[], hours: number): number[] {
  const paid = runs.map(() => 0);
  const order = [...commitments].sort((a, b) => Number(a.account === "") - Number(b.account === "") || a.id - b.id);
  for (let hour = 0; hour < hours; hour++) {
    const t = START + hour * 3600;
    const open = runs.map(({ from, to, level }) => (from <= t && t < to ? level : 0));
    for (const { account, units, toDay } of order) {
      if (new Date(t * 1000).toISOString().slice(0, 10) > toDay) continue;
      const isOf = (i: number) => account === "" || runs[i]?.one.fields.account === account;
      const wanted = open.reduce((sum, units, i) => sum + (isOf(i) ? units * (runs[i]?.count ?? 1) : 0), 0);
      const left = wanted === 0 ? 0 : 1 - Math.min(units, wanted) / wanted;
      open.forEach((units, i) => {
        if (isOf(i)) open[i] = units * left;
      });
    }
    runs.forEach(({ from, to, level, perLevel }, i) => {
      if (from <= t && t < to) paid[i] = (paid[i] ?? 0) + (level - (open[i] ?? 0)) * Number(perLevel) * 3600;
    });
  }
  return paid;
}

test("over a span it is what looking hour by hour gives, for any commitments that overlap, begin and end", () => {
  fc.assert(
    fc.property(someCommitments, someRuns, (rawCommitments, rawRuns) => {
      const commitments = rawCommitments.map(({ account, units, days }, i) =>
        commitment(i + 1, { account, units, toDay: `2027-03-${10 + days}` }),
      );
      const runs = rawRuns.map(
        ({ account, from, length, level, price, count }): CoverRun => ({
          one: one(account),
          from: START + from * 3600,
          to: START + (from + length) * 3600,
          level,
          perLevel: BigInt(price) as AmountPerSecond,
          count,
        }),
      );
      const { covered, usedS } = coverOver(commitments, runs, { from: START, to: START + 5 * DAY_S });
      const slow = slowly(commitments, runs, 120);
      covered.forEach((amount, i) => {
        expect(Math.abs(Number(amount) - (slow[i] ?? 0))).toBeLessThanOrEqual(1 + (slow[i] ?? 0) * 1e-9);
        const { from, to, level, perLevel } = runs[i] as CoverRun;
        expect(amount >= 0n && amount <= BigInt(to - from) * BigInt(level) * perLevel).toBe(true);
      });
      usedS.forEach((seconds, i) => {
        expect(seconds).toBeLessThanOrEqual((commitments[i]?.units ?? 0) * 5 * DAY_S + 1);
      });
    }),
    { numRuns: 200, seed: 61 },
  );
});

test("a span cut in two is covered as it is in one", () => {
  const runs = [
    { one: one("a1"), from: START, to: START + 7200, level: 3, perLevel: 7n as AmountPerSecond },
    { one: one("a2"), from: START + 1800, to: START + 5000, level: 2, perLevel: 5n as AmountPerSecond },
  ];
  const sum = (from: number, to: number) =>
    coverOver([commitment(1, { units: 3 })], runs, { from, to }).covered.reduce((total, amount) => total + amount, 0n);
  const apart = sum(START, START + 3000) + sum(START + 3000, START + 7200);
  const whole = sum(START, START + 7200);
  expect(Math.abs(Number(apart - whole))).toBeLessThanOrEqual(4);
});

test("over time, the older of two equal commitments is used first, and what each is used is told in unit-seconds", () => {
  const run = (from: number, to: number, level: number): CoverRun => ({
    one: one("a1"),
    from,
    to,
    level,
    perLevel: 1_000n as AmountPerSecond,
  });
  const commitments = [commitment(9, { units: 1 }), commitment(2, { units: 1 })];
  const span = { from: START, to: START + 100 };
  const { covered, usedS } = coverOver(commitments, [run(START - 50, START + 40, 1), run(START + 60, START + 200, 1)], span);
  expect(covered).toEqual([40_000n, 40_000n]);
  expect(usedS).toEqual([0, 80]);
  // What is off, or runs at another time, uses nothing.
  const idle = coverOver(commitments, [run(START, START + 100, 0), run(START + 100, START + 200, 1)], span);
  expect(idle).toEqual({ covered: [0n, 0n], usedS: [0, 0] });
});
