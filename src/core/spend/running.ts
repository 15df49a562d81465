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
} from "../pricing";
import type { Instant } from "../time";
import { cardAt, costOver, type LifeSpan, totalOf } from "./ledger";

/** What one running resource costs. */
export type Running = Readonly<{
  /** Everything it costs in its present state. */
  perSecond: AmountPerSecond;
  /** Since its present run began: compute as billed if it ended now, disks and addresses for the same time, at the prices of the time. */
  soFar: Amount;
  /** From now to `until` if it is left alone. */
  toCome: Amount;
}>;

export type RunningInput = Readonly<{
  now: Instant;
  until: Instant;
  cards: readonly DatedCard[];
  /** For what runs at changing levels: its life since the run began. */
  life?: readonly LifeSpan[] | undefined;
}>;

/** The spend of one resource at `now`, and what is to come until `until` at the same rate. Null where it has no price at all. */
export function runningSpend(resource: Resource, { now, until, cards, life }: RunningInput): Running | null {
  const card = cardAt(cards, now);
  if (!card) return null;
  const perSecond = costPerSecond(card, resource);
  const toCome = amountOf(Math.max(0, until - now), perSecond);
  const from = resource.runSince ?? (resource.state === "halted" ? resource.since : now);
  if (from >= now) return { perSecond, soFar: NO_AMOUNT, toCome };
  if (life && life.length > 1) {
    // One second beyond: the run counts as ended now, so what is billed for it so far is rounded up.
    return { perSecond, soFar: totalOf(costOver({ life, cards, from, to: now, knownTo: now + 1 })), toCome };
  }
  const isRun = resource.runSince !== null;
  let soFar = NO_AMOUNT;
  cards.forEach((dated, i) => {
    const start = i === 0 ? from : Math.max(from, dated.from);
    const end = Math.min(now, cards[i + 1]?.from ?? now);
    if (start >= end) return;
    const rate = isRun
      ? addRates(computePerSecond(dated.card, resource.level), dated.card.always, dated.card.addressesOn)
      : costPerSecond(dated.card, resource);
    soFar = addAmounts(soFar, amountOf(end - start, rate));
  });
  const rounded = isRun ? billedSeconds(now - from, card.billing) - (now - from) : 0;
  return { perSecond, soFar: addAmounts(soFar, amountOf(rounded, computePerSecond(card, resource.level))), toCome };
}
