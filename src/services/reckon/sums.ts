import type { Resource } from "@/core/plan";
import { type Amount, addAmounts, covers, NO_AMOUNT } from "@/core/pricing";
import { lifeTotal, stateRates, stepSums, totalOf } from "@/core/spend";
import { DAY_S, type Instant } from "@/core/time";
import type { Lives, Prices } from "@/store";
import { priced, reckonLives } from "./by-step";
import type { ReckonInput } from "./input";

/** What everything cost over the whole of `[from, to)`, by resource, the fees by their keys. */
export function totalsOfLives(lives: Lives, input: ReckonInput): Map<string, Amount> {
  const { plain, coverable } = apart(input);
  const totals = new Map<string, Amount>();
  const rateOf = stateRates();
  const { from, to, knownTo } = input;
  for (const { resource, life, cards } of priced(plain, lives, input)) {
    totals.set(resource.id, lifeTotal({ life, cards, from, to, knownTo }, rateOf));
  }
  for (const [id, steps] of reckonLives(lives, { ...input, resources: coverable })) {
    let sum = 0n;
    for (const cost of steps.values()) sum += totalOf(cost);
    totals.set(id, sum as Amount);
  }
  return totals;
}

/** What all of it cost together in each step of `[from, to)`, fees included. */
export function stepSumsOfLives(lives: Lives, input: ReckonInput): Map<Instant, Amount> {
  const { plain, coverable } = apart(input);
  const { from, to, knownTo, stepS = DAY_S } = input;
  const sums = stepSums(priced(plain, lives, input), { from, to, knownTo, stepS });
  for (const steps of reckonLives(lives, { ...input, resources: coverable }).values()) {
    for (const [step, cost] of steps) sums.set(step, addAmounts(sums.get(step) ?? NO_AMOUNT, totalOf(cost)));
  }
  return sums;
}

type Apart = Readonly<{ prices: Prices; plain: readonly Resource[]; coverable: readonly Resource[] }>;
const kept = new WeakMap<readonly Resource[], Apart>();

/** Those that some commitment may pay for have to be reckoned together; all others each for itself. Kept for a list that is kept. */
function apart({ resources, prices }: ReckonInput): Apart {
  const known = kept.get(resources);
  if (known?.prices === prices) return known;
  const plain: Resource[] = [];
  const coverable: Resource[] = [];
  for (const resource of resources) {
    (prices.commitments.some((commitment) => covers(commitment, resource)) ? coverable : plain).push(resource);
  }
  const both = { prices, plain, coverable };
  kept.set(resources, both);
  return both;
}
