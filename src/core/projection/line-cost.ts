import { type Amount, addAmounts, amountOf, billedSeconds, computePerSecond } from "../pricing";
import type { Line } from "./line";
import type { Month } from "./months";

/** What a line costs in each month if it is always on at its own size. */
export function alwaysOnOf({ card, ownSize }: Line, months: readonly Month[]): readonly Amount[] {
  const kept = (card.always + card.addressesOn) as typeof card.always;
  // One run over the whole of it, billed as a run is.
  return months.map(({ from, to }) =>
    addAmounts(amountOf(to - from, kept), amountOf(billedSeconds(to - from, card.billing), computePerSecond(card, ownSize))),
  );
}
