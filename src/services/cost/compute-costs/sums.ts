import type { Resource } from "@/core/plan";
import { type Amount, addAmounts, type DatedCard, NO_AMOUNT } from "@/core/pricing";
import { type LifeMeter, lifeMeter, stateRates, stepSums, totalOf } from "@/core/spend";
import { DAY_S, type Instant } from "@/core/time";
import { keptBeside, type Lives, type Prices } from "@/store";
import { computeLives, priced } from "./by-step";
import { isCoverable } from "./cover";
import type { ComputedCosts, CostsInput } from "./input";

/** What everything cost over the whole of `[from, to)`, by resource, the fees by their keys. */
export function totalsOfLives(lives: Lives, input: CostsInput): Map<string, Amount> {
  const totals = new Map<string, Amount>();
  addTotals(totals, computeLives(lives, input));
  return totals;
}

function addTotals(totals: Map<string, Amount>, costs: ComputedCosts): void {
  for (const [id, steps] of costs) {
    let sum = 0n;
    for (const cost of steps.values()) sum += totalOf(cost);
    totals.set(id, sum as Amount);
  }
}

type KeptMeter = Readonly<{ cards: readonly DatedCard[]; from: Instant; read: LifeMeter }>;

/** The same within the day whose lives are given, by what is known at `to`; made for one instant of the day after another. */
export function dayTotals(lives: Lives, input: Omit<CostsInput, "knownTo" | "stepS">): Map<string, Amount> {
  const { plain, coverable } = apart(input);
  const { to } = input;
  const totals = new Map<string, Amount>();
  for (const { id, read } of metersOf(lives, plain, input)) totals.set(id, read(to));
  addTotals(totals, computeLives(lives, { ...input, resources: coverable, knownTo: to }));
  return totals;
}

type Metered = Readonly<{ id: string; read: LifeMeter }>;

/** The meter of each life; kept for a life that nothing new is told of, while its cards are the same. */
function metersOf(
  lives: Lives,
  resources: readonly Resource[],
  input: Omit<CostsInput, "knownTo" | "stepS">,
): readonly Metered[] {
  const { from } = input;
  const rateOf = stateRates();
  const wholeDay = { ...input, to: from + DAY_S, knownTo: from + DAY_S };
  return Array.from(priced(resources, lives, wholeDay), ({ resource, life, cards }) => {
    const { read } = keptBeside<KeptMeter>("meters", life, {
      make: () => ({ cards, from, read: lifeMeter({ life, cards, from }, rateOf) }),
      isGood: (known) => known.from === from && isSame(known.cards, cards),
    });
    return { id: resource.id, read };
  });
}

function isSame(cards: readonly DatedCard[], others: readonly DatedCard[]): boolean {
  return cards === others || (cards.length === others.length && cards.every((dated, i) => dated === others[i]));
}

/** What all of it cost together in each step of `[from, to)`, fees included. */
export function stepSumsOfLives(lives: Lives, input: CostsInput): Map<Instant, Amount> {
  const { plain, coverable } = apart(input);
  const { from, to, knownTo, stepS = DAY_S } = input;
  const sums = stepSums(priced(plain, lives, input), { from, to, knownTo, stepS });
  for (const steps of computeLives(lives, { ...input, resources: coverable }).values()) {
    for (const [step, cost] of steps) sums.set(step, addAmounts(sums.get(step) ?? NO_AMOUNT, totalOf(cost)));
  }
  return sums;
}

type Apart = Readonly<{ prices: Prices; plain: readonly Resource[]; coverable: readonly Resource[] }>;
/** Those that some commitment may pay for have to be reckoned together; all others each for itself. Kept for a list that is kept. */
function apart({ resources, prices }: Pick<CostsInput, "resources" | "prices">): Apart {
  return keptBeside<Apart>("coverable", resources, {
    make: () => {
      const plain: Resource[] = [];
      const coverable: Resource[] = [];
      for (const resource of resources) (isCoverable(resource, prices.commitments) ? coverable : plain).push(resource);
      return { prices, plain, coverable };
    },
    isGood: (known) => known.prices === prices,
  });
}
