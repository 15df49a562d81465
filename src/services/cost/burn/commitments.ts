import {
  type Amount,
  type AmountPerSecond,
  amountOf,
  type CardsOver,
  countsAt,
  coverEach,
  covers,
  feePerSecond,
  NO_RATE,
} from "@/core/pricing";
import { cardAt } from "@/core/spend";
import { HOUR_S } from "@/core/time";
import type { Prices, StoredResource } from "@/store";
import type { WorldAt } from "../../inventory";
import { commitmentKey } from "../reckon";

/** A commitment's fee, and how many of its units are in use. */
export type RatedFee = Readonly<{
  key: string;
  size: string;
  region: string;
  account: string;
  used: number;
  units: number;
  perSecond: AmountPerSecond;
  perHour: Amount;
}>;

/** The compute a second that commitments pay for, by resource. */
export function coverOf(
  { at }: WorldAt,
  { commitments }: Prices,
  { running, cardsOver }: { running: readonly StoredResource[]; cardsOver: CardsOver },
): Map<string, AmountPerSecond> {
  const covered = new Map<string, AmountPerSecond>();
  for (const commitment of commitments) {
    if (!countsAt(commitment, at)) continue;
    const eligible = running.filter((resource) => resource.level > 0 && covers(commitment, resource));
    const wanted = eligible.map((resource) => {
      const card = cardAt(cardsOver(resource, at, at + 1) ?? [], at);
      const rate = card ? ((card.perLevel * BigInt(resource.level)) as AmountPerSecond) : NO_RATE;
      return { units: resource.level, compute: amountOf(1, rate) };
    });
    coverEach(wanted, commitment.units).forEach((amount, i) => {
      const { id } = eligible[i] as StoredResource;
      covered.set(id, ((covered.get(id) ?? NO_RATE) + amount) as AmountPerSecond);
    });
  }
  return covered;
}

export function feesOf({ at }: WorldAt, { commitments }: Prices, running: readonly StoredResource[]): RatedFee[] {
  return commitments
    .filter((commitment) => countsAt(commitment, at))
    .map((commitment) => {
      const perSecond = feePerSecond(commitment);
      const wanted = running.reduce((sum, resource) => sum + (covers(commitment, resource) ? resource.level : 0), 0);
      const { size, region, account, units } = commitment;
      const used = Math.min(units, wanted);
      return {
        key: commitmentKey(commitment),
        size,
        region,
        account,
        units,
        used,
        perSecond,
        perHour: amountOf(HOUR_S, perSecond),
      };
    });
}
