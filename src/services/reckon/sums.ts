import type { Resource } from "@/core/plan";
import { type Amount, addAmounts, type Commitment, covers, NO_AMOUNT } from "@/core/pricing";
import { lifeTotal, stateRates, stepSums, totalOf } from "@/core/spend";
import { DAY_S, type Instant } from "@/core/time";
import type { Lives } from "@/store";
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

/** Those that some commitment may pay for have to be reckoned together; all others each for itself. */
function apart({ resources, prices }: ReckonInput): { plain: Resource[]; coverable: Resource[] } {
  const bySize = new Map<string | undefined, Commitment[]>();
  for (const commitment of prices.commitments) {
    bySize.set(commitment.size, [...(bySize.get(commitment.size) ?? []), commitment]);
  }
  const plain: Resource[] = [];
  const coverable: Resource[] = [];
  for (const resource of resources) {
    const own = bySize.get(resource.fields.size);
    (own?.some((commitment) => covers(commitment, resource)) ? coverable : plain).push(resource);
  }
  return { plain, coverable };
}
