import fc from "fast-check";
import { expect, test } from "vitest";
import type { Level } from "../hours";
import { isRunningState, RESOURCE_STATES } from "../plan";
import { type Amount, type AmountPerSecond, type DatedCard, NO_AMOUNT, type RateCard } from "../pricing";
import { DAY_S, HOUR_S } from "../time";
import { COST_ITEMS, costBySteps, costOver, costPieces, type LifeSpan, lifeMeter, stateRates, stepSums, totalOf } from ".";

const rate = (n: number) => BigInt(n) as AmountPerSecond;
const cards = fc
  .record({
    billedWhenHalted: fc.boolean(),
    granularityS: fc.constantFrom(1, 60, 3600),
    scale: fc.integer({ min: 1, max: 9 }),
    risesAt: fc.option(fc.integer({ min: DAY_S - 20_000, max: 2 * DAY_S })),
  })
  .map(({ billedWhenHalted, granularityS, scale, risesAt }): readonly DatedCard[] => {
    const card = (times: number): RateCard => ({
      perLevel: rate(7 * times),
      licencePerCore: rate(3 * times),
      licenceCoresMin: 4,
      licenceCores: 2,
      billing: { granularityS, minimumS: 120 },
      always: rate(5 * times),
      addressesOn: rate(2 * times),
      addressesOff: rate(times),
      image: rate(11 * times),
      billedWhenHalted,
      unpriced: [],
    });
    const before = { from: Number.NEGATIVE_INFINITY, card: card(scale) };
    return risesAt === null ? [before] : [before, { from: risesAt, card: card(scale + 1) }];
  });
const life = fc
  .array(
    fc.record({
      length: fc.integer({ min: 1, max: 40_000 }),
      state: fc.constantFrom(...RESOURCE_STATES),
      level: fc.integer({ min: 1, max: 3 }),
    }),
    { minLength: 1, maxLength: 10 },
  )
  .map((parts) => {
    let at = DAY_S - 20_000;
    return parts.map(({ length, state, level }): LifeSpan => {
      const span = { from: at, to: at + length, state, level: (isRunningState(state) ? level : 0) as Level };
      at += length;
      return span;
    });
  });
const window = fc
  .record({ start: fc.nat(90_000), length: fc.nat(100_000), beyond: fc.integer({ min: -20_000, max: 100_000 }) })
  .map(({ start, length, beyond }) => {
    const from = DAY_S - 20_000 + start;
    const to = from + length + 1;
    return { from, to, knownTo: to + beyond };
  });

test("a life's meter says at every instant what the items and steps known then come to", () => {
  const rateOf = stateRates();
  fc.assert(
    fc.property(life, cards, window, fc.array(fc.nat(200_000), { maxLength: 6 }), (spans, dated, { from, to }, later) => {
      const meter = lifeMeter({ life: spans, cards: dated, from }, rateOf);
      // Where states change, a second before and after, and anywhere.
      const edges = spans.flatMap((span) => [span.to - 1, span.to, span.to + 1]);
      for (const at of [from, to, ...edges, ...later.map((seconds) => from + seconds)]) {
        if (at < from) continue;
        expect(meter(at), `at ${at}`).toBe(totalOf(costOver({ life: spans, cards: dated, from, to: at, knownTo: at })));
      }
    }),
    { numRuns: 300 },
  );
});

test("the terms that a cost is opened to add up to it, item by item, and each is its seconds at its rate or a rounding up", () => {
  fc.assert(
    fc.property(life, cards, window, (spans, dated, { from, to, knownTo }) => {
      const input = { life: spans, cards: dated, from, to, knownTo };
      const whole = costOver(input);
      const pieces = costPieces(input);
      for (const item of COST_ITEMS) {
        const own = pieces.filter((piece) => piece.item === item);
        expect(
          own.reduce((sum, { amount }) => sum + amount, 0n),
          item,
        ).toBe(whole[item]);
      }
      for (const { seconds, perSecond, amount } of pieces) expect(amount).toBe(BigInt(seconds) * perSecond);
    }),
    { numRuns: 300 },
  );
});

test("hours of many lives together are the sums of each one's hours", () => {
  fc.assert(
    fc.property(fc.array(fc.record({ life, cards }), { maxLength: 6 }), window, (lives, { from, to, knownTo }) => {
      const expected = new Map<number, Amount>();
      for (const own of lives) {
        for (const [hour, cost] of costBySteps({ ...own, from, to, knownTo, stepS: HOUR_S })) {
          expected.set(hour, ((expected.get(hour) ?? NO_AMOUNT) + totalOf(cost)) as Amount);
        }
      }
      const sums = stepSums(lives, { from, to, knownTo, stepS: HOUR_S });
      for (const [hour, amount] of sums) expect(amount, `hour ${hour}`).toBe(expected.get(hour) ?? NO_AMOUNT);
      for (const [hour, amount] of expected) expect(sums.get(hour)).toBe(amount);
    }),
    { numRuns: 300 },
  );
});
