import { type AmountPerSecond, amountOf, type Commitment, countsAt, covers, feePerSecond } from "@/core/pricing";
import { billedRuns, type Cost, cardAt, coverRuns, noCost, stepCost } from "@/core/spend";
import { DAY_S, type Instant } from "@/core/time";
import type { Lives } from "@/store";
import { cardsOf } from "../cards";
import { commitmentKey, type ReckonInput } from "./input";

type Covering = Readonly<{
  input: ReckonInput;
  lives: Lives;
  costs: Map<string, Map<Instant, Cost>>;
}>;

/** Takes what a commitment covers off the compute of those it covers, step by step, and adds its fee. */
export function cover(commitment: Commitment, { input, lives, costs }: Covering): void {
  const cardsOver = cardsOf(input.prices, input.capabilities);
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
