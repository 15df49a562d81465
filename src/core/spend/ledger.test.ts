import fc from "fast-check";
import { expect, test } from "vitest";
import type { Level } from "../hours";
import type { ResourceState } from "../plan";
import { type AmountPerSecond, type RateCard, roundedCents, roundedShares } from "../pricing";
import { DAY_S } from "../time";
import { addCost, COST_ITEMS, costBySteps, costOver, type LifeSpan, noCost } from ".";

const rate = (n: number) => BigInt(n) as AmountPerSecond;
const cardOf = (scale: number, billedWhenHalted: boolean): RateCard => ({
  perLevel: rate(7 * scale),
  licencePerCore: rate(3 * scale),
  licenceCoresMin: 4,
  licenceCores: 2,
  billing: { granularityS: 60, minimumS: 120 },
  always: rate(5 * scale),
  addressesOn: rate(2 * scale),
  addressesOff: rate(scale),
  image: rate(11 * scale),
  billedWhenHalted,
  unpriced: [],
});

const STATES: readonly ResourceState[] = ["running", "stopped", "halted", "hibernated", "starting", "stopping", "gone"];
const lives = fc
  .array(
    fc.record({
      length: fc.integer({ min: 1, max: 40_000 }),
      state: fc.constantFrom(...STATES),
      level: fc.integer({ min: 1, max: 3 }),
    }),
    { minLength: 1, maxLength: 12 },
  )
  .map((parts) => {
    let at = DAY_S - 20_000;
    return parts.map(({ length, state, level }): LifeSpan => {
      const isOn = state === "running" || state === "starting" || state === "stopping";
      const span = { from: at, to: at + length, state, level: (isOn ? level : 0) as Level };
      at += length;
      return span;
    });
  });

/** Second by second, as the table of states says, and granules at the end of every run. */
function slowly(life: readonly LifeSpan[], { cards, from, to, knownTo }: Parameters<typeof costBySteps>[0]) {
  const sum = { compute: 0n, licence: 0n, disk: 0n, address: 0n, image: 0n };
  const at = (t: number) => (t >= (cards[1]?.from ?? Number.POSITIVE_INFINITY) ? cards[1] : cards[0])?.card as RateCard;
  const units = ({ state, level }: LifeSpan) =>
    state === "halted"
      ? at(0).billedWhenHalted
        ? 1
        : 0
      : state === "running" || state === "starting" || state === "stopping"
        ? level
        : 0;
  for (const span of life) {
    for (let t = Math.max(from, span.from); t < Math.min(to, span.to); t++) {
      const card = at(t);
      const n = BigInt(units(span));
      sum.compute += card.perLevel * n;
      const cores = Math.max(2 * units(span), 4);
      if (n > 0n) sum.licence += card.licencePerCore * BigInt(cores);
      if (span.state === "gone") continue;
      sum.disk += card.always;
      const isOn = span.state === "running" || span.state === "starting" || span.state === "stopping";
      sum.address += isOn ? card.addressesOn : card.addressesOff;
      if (span.state === "hibernated") sum.image += card.image;
    }
  }
  life.forEach((span, i) => {
    const n = units(span);
    const next = life[i + 1];
    if (n === 0 || (next && units(next) === n) || span.to >= knownTo || span.to - 1 < from || span.to - 1 >= to) return;
    let start = i;
    while (start > 0 && units(life[start - 1] as LifeSpan) === n) start--;
    const length = span.to - (life[start] as LifeSpan).from;
    const extra = BigInt(Math.max(120, Math.ceil(length / 60) * 60) - length);
    const card = at(span.to - 1);
    sum.compute += extra * card.perLevel * BigInt(n);
    sum.licence += extra * card.licencePerCore * BigInt(Math.max(2 * n, 4));
  });
  return sum;
}

test("the ledger is the table of states second by second, with granules where runs end", () => {
  fc.assert(
    fc.property(lives, fc.boolean(), fc.nat(90_000), fc.nat(100_000), fc.boolean(), (life, halted, start, length, isKnown) => {
      const from = DAY_S - 20_000 + start;
      const to = from + length + 1;
      const cards = [
        { from: Number.NEGATIVE_INFINITY, card: cardOf(1, halted) },
        { from: DAY_S + 30_000, card: cardOf(3, halted) },
      ];
      const end = (life.at(-1) as LifeSpan).to;
      const input = { life, cards, from, to, knownTo: isKnown ? end + 1 : end };
      const { secondsOn: _, covered: __, ...fast } = costOver(input);
      expect(fast).toEqual(slowly(life, input));
    }),
    { numRuns: 60 },
  );
});

test("steps of any length add up to the whole, and each lies where it says", () => {
  fc.assert(
    fc.property(lives, fc.constantFrom(3600, 7200, DAY_S), (life, stepS) => {
      const cards = [{ from: Number.NEGATIVE_INFINITY, card: cardOf(1, true) }];
      const input = { life, cards, from: DAY_S - 10_000, to: 3 * DAY_S, knownTo: 4 * DAY_S };
      const steps = costBySteps({ ...input, stepS });
      const sum = noCost();
      for (const [at, cost] of steps) {
        expect(at % stepS).toBe(0);
        addCost(sum, cost);
      }
      expect(sum).toEqual(costOver(input));
      expect(COST_ITEMS.every((item) => sum[item] >= 0n)).toBe(true);
    }),
  );
});

test("shown cents add up to the shown total, each within a cent of its amount", () => {
  const PER_CENT = 1000n * 3600n * 730n * 10_000n;
  fc.assert(
    fc.property(fc.array(fc.bigInt({ min: -PER_CENT * 50n, max: PER_CENT * 5000n }), { maxLength: 40 }), (raw) => {
      const amounts = raw as Parameters<typeof roundedShares>[0][number][];
      const shares = roundedShares(amounts);
      expect(shares.reduce((sum, share) => sum + share, 0n)).toBe(roundedCents(amounts) * 10_000n);
      shares.forEach((share, i) => {
        const exact = Number(amounts[i]) / Number(PER_CENT);
        expect(Math.abs(Number(share) / 10_000 - exact)).toBeLessThan(1.0001);
      });
    }),
  );
});
