import type { Level } from "../hours";
import type { ResourceState } from "../plan";
import {
  type Amount,
  type AmountPerSecond,
  amountOf,
  billedSeconds,
  computePerSecond,
  costPerSecond,
  type DatedCard,
  NO_AMOUNT,
  NO_RATE,
  type RateCard,
} from "../pricing";
import type { Instant } from "../time";
import { billedRuns, costBySteps, costOver, type LedgerInput, type LifeSpan, totalOf } from "./ledger";

/** What one resource costs a second in a state. */
export type StateRates = (card: RateCard, state: ResourceState, level: Level) => AmountPerSecond;

/** Reads rates; each is worked out once for all that share a card. */
export function stateRates(): StateRates {
  return byState((card, state, level) => costPerSecond(card, { state, level }));
}

/** Makes one thing for each card, state and level that is asked for. */
function byState<T>(make: (card: RateCard, state: ResourceState, level: Level) => T): typeof read {
  const known = new Map<RateCard, Map<ResourceState, Map<Level, T>>>();
  function read(card: RateCard, state: ResourceState, level: Level): T {
    const states = known.get(card) ?? new Map<ResourceState, Map<Level, T>>();
    known.set(card, states);
    const levels = states.get(state) ?? new Map<Level, T>();
    states.set(state, levels);
    const one = levels.get(level) ?? make(card, state, level);
    levels.set(level, one);
    return one;
  }
  return read;
}

/** Reads what a life had cost up to an instant, from `from` on, by what is known at that instant. */
export type LifeMeter = (to: Instant) => Amount;

/**
 * The meter of a life: at `to` it says `totalOf(costOver({ life, cards, from, to, knownTo: to }))`.
 * It adds up where states change once, so that thousands of lives are read at one instant after
 * another.
 */
export function lifeMeter(
  { life, cards, from }: Pick<LedgerInput, "life" | "cards" | "from">,
  rateOf: StateRates = stateRates(),
): LifeMeter {
  const [dated, other] = cards;
  if (!dated || other) return (to) => totalOf(costOver({ life, cards, from, to, knownTo: to }));
  const { card } = dated;
  const rounded = new Map(roundings(life, cards, Number.POSITIVE_INFINITY).map(({ at, amount }) => [at + 1, amount]));
  const marks: Mark[] = [];
  let sum = 0n;
  for (const span of life) {
    const start = Math.max(span.from, from);
    if (span.to <= start) continue;
    // What rounds a run up is due once it is known that it is over.
    const due = span.from > from ? (rounded.get(span.from) ?? 0n) : 0n;
    const rate = rateOf(card, span.state, span.level);
    marks.push({ from: start, sum, due, rate });
    sum += due + amountOf(span.to - start, rate);
  }
  const end = life.at(-1)?.to ?? from;
  if (end > from) marks.push({ from: end, sum, due: rounded.get(end) ?? 0n, rate: NO_RATE });
  return (to) => readAt(marks, to);
}

type Mark = Readonly<{ from: Instant; sum: bigint; due: bigint; rate: AmountPerSecond }>;

function readAt(marks: readonly Mark[], to: Instant): Amount {
  for (let i = marks.length - 1; i >= 0; i--) {
    const { from, sum, due, rate } = marks[i] as Mark;
    if (from < to) return (sum + due + amountOf(to - from, rate)) as Amount;
  }
  return NO_AMOUNT;
}

type Priced = Readonly<{ life: readonly LifeSpan[]; cards: readonly DatedCard[] }>;

/**
 * What many lives cost together in each step of `[from, to)`: the sums of `totalOf` over their
 * `costBySteps`. Seconds at one rate are counted first and multiplied once, so that a day of ten
 * thousand machines takes no longer in hours than in one piece.
 */
export function stepSums(
  lives: Iterable<Priced>,
  { from, to, knownTo, stepS }: Readonly<{ from: Instant; to: Instant; knownTo: Instant; stepS: number }>,
): Map<Instant, Amount> {
  const first = Math.floor(from / stepS);
  const sums: bigint[] = Array.from({ length: Math.max(0, Math.ceil(to / stepS) - first) }, () => 0n);
  const add = (step: number, amount: bigint) => {
    sums[step - first] = (sums[step - first] ?? 0n) + amount;
  };
  const counters: { rate: AmountPerSecond; seconds: Float64Array }[] = [];
  const counterOf = byState((card, state, level) => {
    const counter = {
      rate: costPerSecond(card, { state, level }),
      seconds: new Float64Array(sums.length),
    };
    counters.push(counter);
    return counter;
  });
  for (const { life, cards } of lives) {
    const [dated, other] = cards;
    if (!dated || other) {
      const steps = costBySteps({ life, cards, from, to, knownTo, stepS });
      for (const [at, cost] of steps) add(at / stepS, totalOf(cost));
      continue;
    }
    for (const { from: start, to: end, state, level } of life) {
      const { seconds } = counterOf(dated.card, state, level);
      countSeconds(seconds, { from: Math.max(start, from), to: Math.min(end, to), first, stepS });
    }
    for (const { at, amount } of roundings(life, cards, knownTo)) if (at >= from && at < to) add(Math.floor(at / stepS), amount);
  }
  for (const { rate, seconds } of counters) {
    seconds.forEach((n, i) => {
      add(first + i, amountOf(n, rate));
    });
  }
  return new Map(sums.map((sum, i) => [(first + i) * stepS, sum as Amount]));
}

type Counting = Readonly<{ from: Instant; to: Instant; first: number; stepS: number }>;

/** Adds the seconds of `[from, to)` to the steps they lie in. In place. */
function countSeconds(seconds: Float64Array, { from, to, first, stepS }: Counting): void {
  for (let at = from; at < to; ) {
    const step = Math.floor(at / stepS);
    const end = Math.min(to, (step + 1) * stepS);
    seconds[step - first] = (seconds[step - first] ?? 0) + end - at;
    at = end;
  }
}

/** What the provider's granule and minimum add to each run that is over, in its last second; cards that never change. */
function roundings(life: readonly LifeSpan[], cards: readonly DatedCard[], knownTo: Instant): { at: Instant; amount: bigint }[] {
  const card = cards[0]?.card;
  if (!card || !life.some(({ to }) => to < knownTo)) return [];
  const found: { at: Instant; amount: bigint }[] = [];
  for (const { from, to, level } of billedRuns(life, cards)) {
    if (to >= knownTo) continue;
    const extra = billedSeconds(to - from, card.billing) - (to - from);
    if (extra > 0) found.push({ at: to - 1, amount: amountOf(extra, computePerSecond(card, level)) });
  }
  return found;
}
