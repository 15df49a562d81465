import type { Level } from "../hours";
import { isRunningState, type ResourceState } from "../plan";
import {
  type Amount,
  type AmountPerSecond,
  amountOf,
  billedSeconds,
  type DatedCard,
  licencePerSecond,
  type RateCard,
} from "../pricing";
import { DAY_S, type Instant } from "../time";

/** A stretch of a resource's life in one state, `[from, to)`. The last of a life ends where it is known to. */
export type LifeSpan = Readonly<{ from: Instant; to: Instant; state: ResourceState; level: Level }>;

/** Whether there was something at an instant: it was told of by then, and was not gone. */
export function isThereAt(life: readonly LifeSpan[] | undefined, at: Instant): boolean {
  return life?.some(({ from, to, state }) => from <= at && at < to && state !== "gone") ?? false;
}

export const COST_ITEMS = ["compute", "licence", "disk", "address", "image"] as const;
export type CostItem = (typeof COST_ITEMS)[number];

/** What one resource cost, exactly, by item; what of its compute a commitment has paid for; and for how long it was billed as running. */
export type Cost = Record<CostItem, Amount> & { covered: Amount; secondsOn: number };

export function noCost(): Cost {
  return { compute: 0n, licence: 0n, disk: 0n, address: 0n, image: 0n, covered: 0n, secondsOn: 0 } as Cost;
}

export function totalOf({ compute, licence, disk, address, image, covered }: Cost): Amount {
  return (compute + licence + disk + address + image - covered) as Amount;
}

export type LedgerInput = Readonly<{
  /** In order of time, without gaps, from before `from` where a run that goes on began. */
  life: readonly LifeSpan[];
  /** In order of time, the first beginning at or before the first span that counts. */
  cards: readonly DatedCard[];
  from: Instant;
  to: Instant;
  /** Where what is known ends: a run that reaches it is not over, and is not rounded up yet. */
  knownTo: Instant;
  /** The length of a step; a UTC day unless said, and never longer. */
  stepS?: number;
}>;

/**
 * What a resource cost in each step of `[from, to)`, by item, at the prices of the time
 * (docs/model.md, Money: the table of states). Seconds count where they lie; what is rounded up to
 * the provider's granule and minimum counts where the run ends.
 */
export function costBySteps({ life, cards, from, to, knownTo, stepS = DAY_S }: LedgerInput): ReadonlyMap<Instant, Cost> {
  const steps = new Map<Instant, Cost>();
  const add = (item: CostItem, at: Instant, amount: bigint) => {
    const cost = stepCost(steps, at, stepS);
    cost[item] = (cost[item] + amount) as Amount;
  };
  const over = (item: CostItem, start: Instant, end: Instant, rateOf: (card: RateCard) => AmountPerSecond) => {
    for (const piece of pieces(cards, { from: Math.max(start, from), to: Math.min(end, to), stepS })) {
      const rate = rateOf(piece.card);
      if (rate !== 0n) add(item, piece.from, amountOf(piece.to - piece.from, rate));
    }
  };
  for (const span of life) {
    if (span.state === "gone" || span.to <= from || span.from >= to) continue;
    const isOn = isRunningState(span.state);
    over("disk", span.from, span.to, (card) => card.always);
    over("address", span.from, span.to, (card) => (isOn ? card.addressesOn : card.addressesOff));
    if (span.state === "hibernated") over("image", span.from, span.to, (card) => card.image);
  }
  for (const run of billedRuns(life, cards)) {
    if (run.from >= to || run.to <= from) continue;
    over("compute", run.from, run.to, (card) => (card.perLevel * BigInt(run.level)) as AmountPerSecond);
    over("licence", run.from, run.to, (card) => licencePerSecond(card, run.level));
    for (const piece of pieces(cards, { from: Math.max(run.from, from), to: Math.min(run.to, to), stepS })) {
      stepCost(steps, piece.from, stepS).secondsOn += piece.to - piece.from;
    }
    const last = run.to - 1;
    if (run.to >= knownTo || last < from || last >= to) continue;
    const card = cardAt(cards, last);
    if (!card) continue;
    const extra = billedSeconds(run.to - run.from, card.billing) - (run.to - run.from);
    add("compute", last, amountOf(extra, (card.perLevel * BigInt(run.level)) as AmountPerSecond));
    add("licence", last, amountOf(extra, licencePerSecond(card, run.level)));
  }
  return steps;
}

/** The same, added up over the whole of `[from, to)`. */
export function costOver(input: LedgerInput): Cost {
  const sum = noCost();
  for (const cost of costBySteps(input).values()) addCost(sum, cost);
  return sum;
}

/** Adds `more` to `sum` in place. */
export function addCost(sum: Cost, more: Cost): void {
  for (const item of COST_ITEMS) sum[item] = (sum[item] + more[item]) as Amount;
  sum.covered = (sum.covered + more.covered) as Amount;
  sum.secondsOn += more.secondsOn;
}

/** The cost of the step that an instant lies in, made where there is none yet. */
export function stepCost(steps: Map<Instant, Cost>, at: Instant, stepS: number): Cost {
  const step = Math.floor(at / stepS) * stepS;
  const cost = steps.get(step) ?? noCost();
  steps.set(step, cost);
  return cost;
}

type Piece = Readonly<{ from: Instant; to: Instant; card: RateCard }>;

/** `[from, to)` cut at the end of every step and at every change of prices. */
function pieces(cards: readonly DatedCard[], { from, to, stepS }: { from: Instant; to: Instant; stepS: number }): Piece[] {
  const result: Piece[] = [];
  let i = 0;
  for (let at = from; at < to; ) {
    while (i + 1 < cards.length && (cards[i + 1] as DatedCard).from <= at) i++;
    const card = cards[i]?.card;
    const end = Math.min(
      to,
      (Math.floor(at / stepS) + 1) * stepS,
      Math.max(at + 1, cards[i + 1]?.from ?? Number.POSITIVE_INFINITY),
    );
    if (card) result.push({ from: at, to: end, card });
    at = end;
  }
  return result;
}

/** The card that counts at an instant; the first where it is before all. */
export function cardAt(cards: readonly DatedCard[], t: Instant): RateCard | null {
  let found: RateCard | null = cards[0]?.card ?? null;
  for (const { from, card } of cards) if (from <= t) found = card;
  return found;
}

export type BilledRun = Readonly<{ from: Instant; to: Instant; level: Level }>;

/** The level that is billed in a state: a machine shut down from inside goes on as one unit where its provider bills that. */
export function billedLevel({ state, level }: Pick<LifeSpan, "state" | "level">, billedWhenHalted: boolean): Level {
  if (state === "halted") return (billedWhenHalted ? 1 : 0) as Level;
  return isRunningState(state) ? level : (0 as Level);
}

/** The runs of the bill: neighbours at one level are one. A machine shut down from inside may go on running for it. */
export function billedRuns(life: readonly LifeSpan[], cards: readonly DatedCard[]): BilledRun[] {
  const billedWhenHalted = cards[0]?.card.billedWhenHalted ?? false;
  const runs: BilledRun[] = [];
  for (const span of life) {
    const { from, to } = span;
    const level = billedLevel(span, billedWhenHalted);
    if (level === 0 || from >= to) continue;
    const last = runs.at(-1);
    if (last && last.to === from && last.level === level) runs[runs.length - 1] = { ...last, to };
    else runs.push({ from, to, level });
  }
  return runs;
}
