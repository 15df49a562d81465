import type { PriceHistory } from "@/core/pricing";
import { HOUR_S, type Instant } from "@/core/time";

type InPool = Readonly<{ provider: string; region: string; zone: string; size: string; os: string }>;

/** The spot price of each hour before `to`, and of then, since there has been one, with what a person set and discounts; empty where there is none at `to`. */
export function pricesSeen(
  history: PriceHistory,
  of: InPool,
  { from, to }: Readonly<{ from: Instant; to: Instant }>,
): readonly number[] {
  const prices: number[] = [];
  const { knownAt } = history.lookup({ ...of, item: "compute", purchase: "spot" });
  for (let t = to; t > from; t -= HOUR_S) {
    const price = knownAt(t);
    // What stands for any purchase is the full price.
    if (price?.purchase !== "spot") break;
    prices.push(Number(price.rate));
  }
  return prices.reverse();
}
