import type { Resource } from "@/core/plan";
import { type Amount, addAmounts, type CardsOver, covers, NO_AMOUNT } from "@/core/pricing";
import { type LifeMeter, lifeMeter, stateRates, stepSums, totalOf } from "@/core/spend";
import { DAY_S, type Instant } from "@/core/time";
import { type Lives, type Prices, room } from "@/store";
import { cardsOf } from "../cards";
import { priced, reckonLives } from "./by-step";
import type { ReckonInput, Reckoning } from "./input";

/** What everything cost over the whole of `[from, to)`, by resource, the fees by their keys. */
export function totalsOfLives(lives: Lives, input: ReckonInput): Map<string, Amount> {
  const totals = new Map<string, Amount>();
  addTotals(totals, reckonLives(lives, input));
  return totals;
}

function addTotals(totals: Map<string, Amount>, costs: Reckoning): void {
  for (const [id, steps] of costs) {
    let sum = 0n;
    for (const cost of steps.values()) sum += totalOf(cost);
    totals.set(id, sum as Amount);
  }
}

type Meters = Readonly<{
  resources: readonly Resource[];
  cardsOver: CardsOver;
  from: Instant;
  meters: readonly Readonly<{ id: string; read: LifeMeter }>[];
}>;
/** The same within the day whose lives are given, by what is known at `to`; made for one instant of the day after another. */
export function dayTotals(lives: Lives, input: Omit<ReckonInput, "knownTo" | "stepS">): Map<string, Amount> {
  const { plain, coverable } = apart(input);
  const { to } = input;
  const totals = new Map<string, Amount>();
  for (const { id, read } of metersOf(lives, plain, input)) totals.set(id, read(to));
  addTotals(totals, reckonLives(lives, { ...input, resources: coverable, knownTo: to }));
  return totals;
}

function metersOf(lives: Lives, resources: readonly Resource[], input: Omit<ReckonInput, "knownTo" | "stepS">): Meters["meters"] {
  const { prices, capabilities, from } = input;
  const cardsOver = cardsOf(prices, capabilities);
  const keptMeters = room<Lives, Meters>("meters");
  const known = keptMeters.get(lives);
  if (known?.resources === resources && known.cardsOver === cardsOver && known.from === from) return known.meters;
  const rateOf = stateRates();
  const wholeDay = { ...input, to: from + DAY_S, knownTo: from + DAY_S };
  const meters = Array.from(priced(resources, lives, wholeDay), ({ resource, life, cards }) => ({
    id: resource.id,
    read: lifeMeter({ life, cards, from }, rateOf),
  }));
  keptMeters.set(lives, { resources, cardsOver, from, meters });
  return meters;
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

/** What a resource is listed as, now and before. */
function listings(resource: Resource): readonly Resource[] {
  return resource.earlier.length === 0 ? [resource] : [resource, ...resource.earlier.map(({ was }) => was)];
}

type Apart = Readonly<{ prices: Prices; plain: readonly Resource[]; coverable: readonly Resource[] }>;
/** Those that some commitment may pay for have to be reckoned together; all others each for itself. Kept for a list that is kept. */
function apart({ resources, prices }: Pick<ReckonInput, "resources" | "prices">): Apart {
  const kept = room<readonly Resource[], Apart>("coverable");
  const known = kept.get(resources);
  if (known?.prices === prices) return known;
  const plain: Resource[] = [];
  const coverable: Resource[] = [];
  for (const resource of resources) {
    (prices.commitments.some((commitment) => listings(resource).some((one) => covers(commitment, one))) ? coverable : plain).push(
      resource,
    );
  }
  const both = { prices, plain, coverable };
  kept.set(resources, both);
  return both;
}
