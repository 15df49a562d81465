import { MONTH_HOURS } from "@/core/time";
import type { MixOffers } from "@/services/mix";

export type EvictionWordsProps = Readonly<{
  offers: MixOffers;
  /** Of set-up, where it is known: what is paid again at each eviction. */
  setupMinutes?: number;
}>;

/** What an eviction costs and risks, with its disk kept and without. */
export function EvictionWords({ offers, setupMinutes }: EvictionWordsProps) {
  const { size, currency, diskPrice, noticeS } = offers;
  const own = offers.offers.filter((offer) => offer.size === size && offer.whyNot === null);
  const price = Math.min(...own.map((offer) => offer.price));
  const again =
    setupMinutes === undefined || own.length === 0 ? "" : `, ${((price * setupMinutes) / 60).toFixed(3)} ${currency} each time`;
  return (
    <p className="text-[13px] text-soft">
      Evicted with {noticeS} s notice. Kept, its disk goes on costing {(diskPrice * MONTH_HOURS).toFixed(2)} {currency} a month
      and waits for its own pool; dropped, what is on it is lost and set-up is paid again{again}.
    </p>
  );
}
