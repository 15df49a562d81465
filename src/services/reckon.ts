import type { Resource } from "@/core/plan";
import { type AmountPerSecond, amountOf, type CardsOver, type Commitment, countsAt, covers, feePerSecond } from "@/core/pricing";
import { billedRuns, type Cost, cardAt, costBySteps, coverRuns, type LifeSpan, noCost, stepCost } from "@/core/spend";
import { DAY_S, type Instant } from "@/core/time";
import { livesOf, type Pool, type Prices } from "@/store";
import { cardsOf } from "./cards";
import type { StoredWorld } from "./world";

export type Reckoning = ReadonlyMap<string, ReadonlyMap<Instant, Cost>>;

export type ReckonInput = Readonly<{
  resources: readonly Resource[];
  capabilities: StoredWorld["capabilities"];
  prices: Prices;
  from: Instant;
  to: Instant;
  /** Where what is known ends; what runs then is not over. */
  knownTo: Instant;
  /** The length of a step in seconds; a UTC day unless said. */
  stepS?: number;
}>;

/** A commitment's fee among the costs, beside those of resources. */
export function commitmentKey({ id }: Pick<Commitment, "id">): string {
  return `commitment:${id}`;
}

/**
 * What everything cost in each step of `[from, to)` from what happened, at the prices of the time,
 * net of commitments: by resource and step, the fees as lines of their own.
 */
export async function reckon(pool: Pool, input: ReckonInput): Promise<Reckoning> {
  const { resources, prices, capabilities, from, to, knownTo, stepS = DAY_S } = input;
  const cardsOver = cardsOf(prices, capabilities);
  const fed = resources.filter(({ kind }) => kind !== "disk" && kind !== "address").map(({ id }) => id);
  const lives = await livesOf(pool, fed, { from, to: Math.max(to, Math.min(knownTo, to + 1)) });
  const costs = new Map<string, Map<Instant, Cost>>();
  for (const resource of resources) {
    const life = lifeOf(resource, lives, { from, to });
    const cards = cardsOver(resource, life[0]?.from ?? from, to);
    if (!cards || life.length === 0) continue;
    const steps = costBySteps({ life, cards, from, to, knownTo, stepS });
    if (steps.size > 0) costs.set(resource.id, steps as Map<Instant, Cost>);
  }
  for (const commitment of prices.commitments) cover(commitment, { input, lives, cardsOver, costs });
  return costs;
}

/** What is not in the feed has cost the same ever since. */
function lifeOf(
  resource: Resource,
  lives: ReadonlyMap<string, readonly LifeSpan[]>,
  { from, to }: { from: Instant; to: Instant },
): readonly LifeSpan[] {
  const life = lives.get(resource.id);
  if (life) return life;
  if (resource.since >= to || resource.state === "gone") return [];
  return [{ from: Math.max(resource.since, from), to, state: resource.state, level: resource.level }];
}

type Covering = Readonly<{
  input: ReckonInput;
  lives: ReadonlyMap<string, readonly LifeSpan[]>;
  cardsOver: CardsOver;
  costs: Map<string, Map<Instant, Cost>>;
}>;

/** Takes what a commitment covers off the compute of those it covers, step by step, and adds its fee. */
function cover(commitment: Commitment, { input, lives, cardsOver, costs }: Covering): void {
  const eligible = input.resources.filter((resource) => covers(commitment, resource));
  const fees = new Map<Instant, Cost>();
  const { stepS = DAY_S } = input;
  for (let step = Math.floor(input.from / stepS) * stepS; step < input.to; step += stepS) {
    if (!countsAt(commitment, step)) continue;
    const from = Math.max(step, input.from);
    const to = Math.min(step + stepS, input.to);
    fees.set(step, { ...noCost(), compute: amountOf(to - from, feePerSecond(commitment)) });
    const runs = eligible.flatMap((resource) => {
      const life = lives.get(resource.id) ?? [];
      const cards = cardsOver(resource, from, to) ?? [];
      return billedRuns(life, cards).flatMap((run) => {
        const start = Math.max(from, run.from);
        const end = Math.min(to, run.to);
        return start < end ? [{ id: resource.id, from: start, to: end, level: run.level, card: cardAt(cards, start) }] : [];
      });
    });
    coverRuns(runs, commitment.units).forEach((unitSeconds, i) => {
      const run = runs[i] as (typeof runs)[number];
      const own = costs.get(run.id);
      if (!own || !run.card) return;
      const cost = stepCost(own, step, stepS);
      const covered = cost.covered + amountOf(unitSeconds, run.card.perLevel as AmountPerSecond);
      // A price that rose within the step: never more than was charged.
      // biome-ignore lint/complexity/useMathMinMax: these are bigints
      cost.covered = (covered > cost.compute ? cost.compute : covered) as Cost["covered"];
    });
  }
  if (fees.size > 0) costs.set(commitmentKey(commitment), fees);
}
