import type { Resource } from "@/core/plan";
import type { DatedCard } from "@/core/pricing";
import { type Cost, costBySteps, type LifeSpan } from "@/core/spend";
import { DAY_S, type Instant } from "@/core/time";
import { type Lives, livesOf, type Pool } from "@/store";
import { cardsOf } from "../cards";
import { cover } from "./cover";
import type { ComputedCosts, CostsInput } from "./input";

/**
 * What everything cost in each step of `[from, to)` from what happened, at the prices of the time,
 * net of commitments: by resource and step, the fees as lines of their own.
 */
export async function computeCosts(pool: Pool, input: CostsInput): Promise<ComputedCosts> {
  const { resources, from, to, knownTo } = input;
  const ids = resources.map(({ id }) => id);
  return computeLives(await livesOf(pool, ids, { from, to: Math.max(to, Math.min(knownTo, to + 1)) }), input);
}

/** The same from lives that are at hand; they may go on beyond `to`. */
export function computeLives(lives: Lives, input: CostsInput): ComputedCosts {
  const { resources, from, to, knownTo, stepS = DAY_S } = input;
  const costs = new Map<string, Map<Instant, Cost>>();
  for (const { resource, life, cards } of priced(resources, lives, input)) {
    const steps = costBySteps({ life, cards, from, to, knownTo, stepS });
    if (steps.size > 0) costs.set(resource.id, steps as Map<Instant, Cost>);
  }
  cover({ input, lives, costs });
  return costs;
}

export type PricedLife = Readonly<{ resource: Resource; life: readonly LifeSpan[]; cards: readonly DatedCard[] }>;

/** The lives of resources with the cards they were charged by; what has no price or did not live is left out. */
export function* priced(
  resources: readonly Resource[],
  lives: Lives,
  { prices, capabilities, from, to }: CostsInput,
): Generator<PricedLife> {
  const cardsOver = cardsOf(prices, capabilities);
  for (const resource of resources) {
    const life = lives.get(resource.id);
    const cards = life && cardsOver(resource, life[0]?.from ?? from, to);
    if (life && cards) yield { resource, life, cards };
  }
}
