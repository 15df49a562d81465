import type { Resource } from "../plan";
import {
  type Amount,
  type AmountPerSecond,
  addAmounts,
  addRates,
  amountOf,
  billedSeconds,
  computePerSecond,
  costPerSecond,
  type DatedCard,
  NO_AMOUNT,
  NO_RATE,
} from "../pricing";
import type { Instant } from "../time";
import { cardAt, costOver, type LifeSpan, totalOf } from "./ledger";

/** Reads what one resource costs while it stays as it is and its prices stay as they are. */
export type RunMeter = Readonly<{
  /** Everything it costs in its present state. */
  perSecond: AmountPerSecond;
  /** Since its present run began: compute as billed if it ended then, disks and addresses for the same time, at the prices of the time. */
  soFarAt: (now: Instant) => Amount;
}>;

export type RunMeterInput = Readonly<{
  /** The meter counts from here until the next change of a price. */
  at: Instant;
  cards: readonly DatedCard[];
  /** For what runs at changing levels: its life since the run began; the last span goes on. */
  life?: readonly LifeSpan[] | undefined;
}>;

/** The meter of one resource as of `at`. Null where it has no price at all. */
export function runMeter(resource: Resource, { at, cards, life }: RunMeterInput): RunMeter | null {
  const card = cardAt(cards, at);
  if (!card) return null;
  const perSecond = costPerSecond(card, resource);
  // A run that goes on for the bill after a machine was shut down from inside began before that.
  const haltedSince = resource.state === "halted" ? Math.min(resource.since, life?.[0]?.from ?? resource.since) : null;
  const from = resource.runSince ?? haltedSince;
  if (from === null) return { perSecond, soFarAt: () => NO_AMOUNT };
  if (life && life.length > 1) return { perSecond, soFarAt: (now) => soFarOfLife(life, { cards, from, now }) };
  const isRun = resource.runSince !== null;
  const rateUnder = (dated: DatedCard) =>
    isRun
      ? addRates(computePerSecond(dated.card, resource.level), dated.card.always, dated.card.addressesOn)
      : costPerSecond(dated.card, resource);
  let before = NO_AMOUNT;
  let since = from;
  let rate = NO_RATE;
  cards.forEach((dated, i) => {
    const end = cards[i + 1]?.from ?? Number.POSITIVE_INFINITY;
    if (end <= from || (dated.from > at && i > 0)) return;
    rate = rateUnder(dated);
    since = i === 0 ? from : Math.max(from, dated.from);
    if (end <= at) before = addAmounts(before, amountOf(end - since, rate));
  });
  const compute = isRun ? computePerSecond(card, resource.level) : NO_RATE;
  return {
    perSecond,
    soFarAt(now) {
      if (now <= from) return NO_AMOUNT;
      const spent = addAmounts(before, amountOf(now - since, rate));
      if (!isRun) return spent;
      const rounded = billedSeconds(now - from, card.billing) - (now - from);
      return rounded === 0 ? spent : addAmounts(spent, amountOf(rounded, compute));
    },
  };
}

type LifeSoFar = Readonly<{ cards: readonly DatedCard[]; from: Instant; now: Instant }>;

/** One second beyond now is known of: the run counts as ended, so what is billed for it so far is rounded up. */
function soFarOfLife(life: readonly LifeSpan[], { cards, from, now }: LifeSoFar): Amount {
  if (from >= now) return NO_AMOUNT;
  const untilNow = life.map((span, i) => (i === life.length - 1 ? { ...span, to: now } : span));
  return totalOf(costOver({ life: untilNow, cards, from, to: now, knownTo: now + 1 }));
}
