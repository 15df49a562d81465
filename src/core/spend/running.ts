import type { Resource } from "../plan";
import {
  type Amount,
  type AmountPerSecond,
  addAmounts,
  amountOf,
  billedSeconds,
  computePerSecond,
  costPerSecond,
  NO_AMOUNT,
  type RateCard,
} from "../pricing";
import type { Instant } from "../time";

/** What one running resource costs. */
export type Running = Readonly<{
  /** Everything it costs in its present state. */
  perSecond: AmountPerSecond;
  /** Since its present run began: compute as billed so far, disks and addresses for the same time. */
  soFar: Amount;
  /** From now to `until` if it is left alone. */
  toCome: Amount;
}>;

/** The spend of one resource at `now`, and what is to come until `until` at the same rate. */
export function runningSpend(resource: Resource, card: RateCard, { now, until }: { now: Instant; until: Instant }): Running {
  const perSecond = costPerSecond(card, resource);
  const seconds = resource.runSince === null ? 0 : Math.max(0, now - resource.runSince);
  const compute =
    seconds > 0 ? amountOf(billedSeconds(seconds, card.billing), computePerSecond(card, resource.level)) : NO_AMOUNT;
  const around = amountOf(seconds, (card.always + card.addressesOn) as AmountPerSecond);
  return { perSecond, soFar: addAmounts(compute, around), toCome: amountOf(Math.max(0, until - now), perSecond) };
}
