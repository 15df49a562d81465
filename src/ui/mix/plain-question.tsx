import { MONTH_HOURS } from "@/core/time";
import type { MixOffers } from "@/services/mix";
import { EvictionWords } from "./eviction-words";

/** One machine of the fleet's own size, before anything else: full price against spot, as two numbers and the difference. */
export function PlainQuestion({ offers }: Readonly<{ offers: MixOffers }>) {
  const { size, currency, firmPrice, diskPrice, ownUnits } = offers;
  const possible = offers.offers.filter((offer) => offer.size === size && offer.whyNot === null);
  const cheapest = Math.min(...possible.map(({ price }) => price));
  const month = (perHour: number) => (perHour * MONTH_HOURS).toFixed(2);
  if (possible.length === 0) {
    const why = offers.offers.find((offer) => offer.size === size)?.whyNot ?? "no spot price of it is known";
    return (
      <p>
        A {size} costs {month(firmPrice + diskPrice)} {currency} a month at full price, and cannot be spot: {why}.
      </p>
    );
  }
  return (
    <div>
      <p>
        One {size}, a month: <b>{month(firmPrice + diskPrice)}</b> at full price, <b>{month(cheapest + diskPrice)}</b> as spot:{" "}
        <b className="text-saved">{month(firmPrice - cheapest)}</b> {currency} less. There are {ownUnits}.
      </p>
      <EvictionWords offers={offers} />
    </div>
  );
}
