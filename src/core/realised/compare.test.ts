import fc from "fast-check";
import { expect, test } from "vitest";
import type { Level } from "../hours";
import type { Amount, AmountPerSecond, RateCard } from "../pricing";
import { OVERRIDE_KINDS } from "../rounds";
import type { LifeSpan } from "../spend";
import { addCompared, compareDay, type DayOfResource, GAP_CAUSES } from ".";

const rate = (n: number) => BigInt(n) as AmountPerSecond;
const CARD: RateCard = {
  perLevel: rate(10),
  licencePerCore: rate(0),
  licenceCoresMin: 0,
  licenceCores: 1,
  billing: { granularityS: 1, minimumS: 60 },
  always: rate(1),
  addressesOn: rate(0),
  addressesOff: rate(0),
  image: rate(2),
  billedWhenHalted: false,
  unpriced: [],
};
const DAY = 1000;
const on = (from: number, to: number): LifeSpan => ({ from, to, state: "running", level: 1 as Level });
const off = (from: number, to: number): LifeSpan => ({ from, to, state: "stopped", level: 0 as Level });
/** Due on from 300 to 700 of a day of 1,000 seconds; what differs is said. */
const day = (more: Partial<DayOfResource>): DayOfResource => {
  const life = more.life ?? [off(-50, 300), on(300, 700), off(700, 1050)];
  const seconds = life.reduce((sum, { from, to, level }) => sum + level * (Math.min(DAY, to) - Math.max(0, from)), 0);
  const cost = (BigInt(seconds) * 10n + BigInt(DAY)) as Amount;
  const due = [
    { from: 0, to: 300, level: 0 as Level },
    { from: 300, to: 700, level: 1 as Level },
    { from: 700, to: DAY, level: 0 as Level },
  ];
  return {
    from: 0,
    to: DAY,
    due,
    dueThen: more.due ?? due,
    cards: [{ from: Number.NEGATIVE_INFINITY, card: CARD }],
    planCard: CARD,
    paid: cost,
    hibernates: false,
    starts: "plan",
    isNew: false,
    endedAt: null,
    overrides: [],
    failed: [],
    actions: [],
    evictedAt: [],
    ...more,
    life,
  };
};
const causes = (input: DayOfResource) => {
  const { gap } = compareDay(input);
  return Object.fromEntries(GAP_CAUSES.flatMap((cause) => (gap[cause] === 0n ? [] : [[cause, Number(gap[cause])]])));
};

test("a day that went as planned has no gap", () => {
  expect(compareDay(day({}))).toMatchObject({ paid: 5000n, projected: 5000n });
  expect(causes(day({}))).toEqual({});
});

test("each cause gets what it cost or saved, for its own time", () => {
  const evening = [off(-50, 300), on(300, 900), off(900, 1050)];
  const hand = "persons' starts and stops";
  expect(causes(day({ life: evening, overrides: [{ kind: "hold", from: 700, to: 850 }] }))).toEqual({
    holds: 1500,
    "rounds late": 500,
  });
  expect(causes(day({ life: evening, failed: [{ from: 700, to: 900 }] }))).toEqual({ "failed starts or stops": 2000 });
  expect(causes(day({ life: evening, actions: [{ from: 720, to: 900 }] }))).toEqual({ "on the way": 2000 });
  expect(causes(day({ life: evening }))).toEqual({ "on the way": 1200, "rounds late": 800 });
  const evicted = [off(-50, 300), on(300, 500), off(500, 1050)];
  expect(causes(day({ life: evicted, evictedAt: [500] }))).toEqual({ evictions: -2000 });
  expect(causes(day({ life: evicted }))).toEqual({ [hand]: -2000 });
  const again = [off(-50, 300), on(300, 700), off(700, 800), on(800, 950), off(950, 1050)];
  expect(causes(day({ life: again }))).toEqual({ [hand]: 1500 });
  const granule = { ...CARD, billing: { granularityS: 90, minimumS: 60 } };
  const rounded = { cards: [{ from: Number.NEGATIVE_INFINITY, card: granule }], planCard: granule };
  expect(causes(day({ ...rounded, paid: 5500n as Amount }))).toEqual({ "rounding up of runs": 500 });
});

test("what was paid and neither the life, the prices nor the granule of the day come to is unexplained, not rounding", () => {
  expect(causes(day({ paid: 5030n as Amount }))).toEqual({ unexplained: 30 });
});

test("what an action of ours made and nobody wanted is unexplained", () => {
  const again = [off(-50, 300), on(300, 700), off(700, 800), on(800, 950), off(950, 1050)];
  expect(causes(day({ life: again, actions: [{ from: 790, to: 801 }] }))).toEqual({ unexplained: 1490, "on the way": 10 });
});

test("where the plan changed during the day, what differs from the day's first plan is that and nothing else", () => {
  const dueThen = [
    { from: 0, to: 300, level: 0 as Level },
    { from: 300, to: DAY, level: 1 as Level },
  ];
  expect(causes(day({ dueThen, life: [off(-50, 300), on(300, 1050)] }))).toEqual({ "plan changed": 3000 });
});

test("prices are an effect of their own: the day is compared at its prices, whatever the plan's were", () => {
  const dear = { ...CARD, perLevel: rate(20) };
  const compared = compareDay(day({ cards: [{ from: 0, card: dear }], paid: 9000n as Amount }));
  expect(compared).toMatchObject({ paid: 9000n, projected: 9000n, priceEffect: 4000n });
  const atNoon = [
    { from: 0, card: CARD },
    { from: 500, card: dear },
  ];
  expect(compareDay(day({ cards: atNoon, paid: 7000n as Amount }))).toMatchObject({ projected: 7000n, priceEffect: 2000n });
});

test("what came later than the plan, or ends, is a cause of its own and nothing else", () => {
  const fresh = compareDay(day({ isNew: true }));
  expect(fresh).toMatchObject({ projected: 0n, paid: 5000n });
  expect(causes(day({ isNew: true }))).toEqual({ "new resources": 5000 });
  const gone = day({ endedAt: 500, life: [off(-50, 300), on(300, 500)], paid: 2500n as Amount });
  expect(compareDay(gone).projected).toBe(5000n);
  expect(causes(gone)).toEqual({ "gone resources": -2500 });
});

test("a plan that hibernates projected the image; one started by hand projected no start", () => {
  expect(compareDay(day({ hibernates: true })).projected).toBe(5000n + 600n * 2n);
  expect(compareDay(day({ starts: "hand", life: [off(-50, 1050)] })).projected).toBe(1000n);
});

test("whatever happened, the parts of the gap add up to it exactly", () => {
  const stretch = fc.tuple(fc.nat(DAY), fc.nat(DAY)).map(([a, b]) => ({ from: Math.min(a, b), to: Math.max(a, b) + 1 }));
  const lives = fc
    .array(fc.tuple(fc.integer({ min: 1, max: 400 }), fc.boolean()), { minLength: 1, maxLength: 8 })
    .map((parts) => {
      let at = -50;
      return parts.map(([length, isOn]) => {
        const span = isOn ? on(at, at + length) : off(at, at + length);
        at += length;
        return span;
      });
    });
  fc.assert(
    fc.property(
      fc.record({
        life: lives,
        paid: fc.bigInt({ min: 0n, max: 20_000n }),
        overrides: fc.array(
          fc.record({
            kind: fc.constantFrom(...OVERRIDE_KINDS),
            from: fc.integer({ min: 0, max: 1000 }),
            to: fc.integer({ min: 0, max: 1000 }),
          }),
          { maxLength: 2 },
        ),
        failed: fc.array(stretch, { maxLength: 2 }),
        evictedAt: fc.array(fc.nat(DAY), { maxLength: 2 }),
        isNew: fc.boolean(),
        endedAt: fc.option(fc.nat(DAY)),
        actions: fc.array(stretch, { maxLength: 2 }),
        hibernates: fc.boolean(),
        starts: fc.constantFrom("plan" as const, "hand" as const),
      }),
      (more) => {
        const one = compareDay(day(more as unknown as Partial<DayOfResource>));
        const { paid, projected, gap } = addCompared([one, one]);
        expect(GAP_CAUSES.reduce((sum, cause) => sum + gap[cause], 0n)).toBe(paid - projected);
      },
    ),
  );
});
