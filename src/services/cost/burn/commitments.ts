import {
  type Amount,
  type AmountPerSecond,
  amountOf,
  type CardsOver,
  countsAt,
  coverAt,
  coveredByAny,
  coveredPerSecond,
  feePerSecond,
  NO_RATE,
} from "@/core/pricing";
import { billedLevel, cardAt } from "@/core/spend";
import { HOUR_S } from "@/core/time";
import type { Prices, StoredResource } from "@/store";
import type { SnapshotAt } from "../../inventory";
import { commitmentKey } from "../compute-costs";

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

/** What commitments do at an instant: the compute a second they pay for, by resource, and what each costs. */
export type CoverNow = Readonly<{ covered: ReadonlyMap<string, AmountPerSecond>; fees: readonly RatedFee[] }>;

export function coverNow(
  { at }: SnapshotAt,
  { commitments }: Prices,
  { running, cardsOver }: { running: readonly StoredResource[]; cardsOver: CardsOver },
): CoverNow {
  const counting = commitments.filter((commitment) => countsAt(commitment, at));
  if (counting.length === 0) return { covered: new Map(), fees: [] };
  const runs = running.flatMap((one) => {
    if (!coveredByAny(counting, one)) return [];
    const card = cardAt(cardsOver(one, at, at + 1) ?? [], at);
    return [{ one, level: billedLevel(one, card?.billedWhenHalted ?? false), perLevel: card?.perLevel ?? NO_RATE }];
  });
  const { shares, used } = coverAt(counting, runs);
  const covered = new Map<string, AmountPerSecond>();
  runs.forEach((run, i) => {
    const paid = coveredPerSecond(shares[i] as bigint, run);
    if (paid > 0n) covered.set(run.one.id, paid);
  });
  const fees = counting.map((commitment, i): RatedFee => {
    const perSecond = feePerSecond(commitment);
    const { size, region, account, units } = commitment;
    const key = commitmentKey(commitment);
    return { key, size, region, account, units, used: used[i] ?? 0, perSecond, perHour: amountOf(HOUR_S, perSecond) };
  });
  return { covered, fees };
}
