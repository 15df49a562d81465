import { asObserved, asSaid, type Mix, type MixChoice, type Pool } from "@/core/mix";
import type { FleetDraft } from "@/core/plan";
import { WEEK_HOURS } from "@/core/time";
import type { MixOffer, MixOffers } from "@/services/mix";

const FALLBACK_MINUTES = 30;
const RETURN_MINUTES = 60;
const REFILL_MINUTES = 5;
const SETUP_MINUTES = 5;

/** A pool as it is offered: today's price, and the hazard as it is known, drawn anew in every trial. */
export function poolOf({ name, units, price, rate }: MixOffer): Pool {
  return {
    name,
    unitsPerMachine: units,
    price,
    hazard: { shape: rate.shape, rate: rate.rate },
    reclaimRate: null,
    reclaimShare: null,
    availableHours: null,
    dryHours: null,
    dryHazardFactor: null,
  };
}

/** The mix as things are now: today's prices and what is known today, except where a person said otherwise. */
export function asOfNow(mix: Mix, { offers, firmPrice, diskPrice }: MixOffers): Mix {
  const pools = mix.pools.map((pool) => {
    const offer = offers.find(({ name }) => name === pool.name);
    return offer ? asObserved(withCap(pool, offer, pool.cap ?? null), offer) : pool;
  });
  return { ...mix, pools, firmPrice, diskPrice };
}

/** The pool with a cap on its price, which then moves as it did in the last week; null: without one, at today's price. */
export function withCap({ price: _, priceSeries: __, cap: ___, ...pool }: Pool, offer: MixOffer, cap: number | null): Pool {
  if (cap === null || offer.prices.length === 0) return { ...pool, price: offer.price };
  return { ...pool, priceSeries: offer.prices.slice(-WEEK_HOURS), cap };
}

/** The share of the hours that were seen in which the price was at most the cap. */
export function shareUnder({ prices }: MixOffer, cap: number): number {
  return prices.length === 0 ? 0 : prices.filter((price) => price <= cap).length / prices.length;
}

/** A mix to begin with: half of it firm, the rest from wherever its own size is to be had. */
export function firstMix(offers: MixOffers): Mix {
  const wanted = Math.max(1, offers.ownUnits);
  const possible = offers.offers.filter(({ whyNot }) => whyNot === null);
  const own = possible.filter(({ size }) => size === offers.size);
  const pools = (own.length > 0 ? own : possible).map(poolOf);
  const firm = pools.length === 0 ? wanted : Math.ceil(wanted / 2);
  return {
    wanted,
    firm,
    firmPrice: offers.firmPrice,
    setupMinutes: SETUP_MINUTES,
    eviction: "drop",
    diskPrice: offers.diskPrice,
    pools,
    order: "even",
    refillEveryMinutes: REFILL_MINUTES,
    provisionMinutes: offers.provisionMinutes,
    fallbackAfterMinutes: FALLBACK_MINUTES,
    returnAfterMinutes: RETURN_MINUTES,
    floor: firm,
  };
}

/** A draft as if it never had a mix. */
export function withoutMix({ mix: _, ...draft }: FleetDraft): FleetDraft {
  return draft;
}

type Taking = Readonly<{ mix: Mix; most: number; tried: readonly Pool[]; offers: MixOffers }>;

/** What a mix becomes when a point that was tried is taken. What was seen may have changed since: the mix's own word stands. */
export function taken({ firm, pools, order }: MixChoice, { mix, most, tried, offers }: Taking): Partial<Mix> {
  const chosen = tried
    .filter(({ name }) => pools.includes(name))
    .map((pool) => {
      const own = mix.pools.find(({ name }) => name === pool.name);
      const offer = offers.offers.find(({ name }) => name === pool.name);
      return own ?? (offer ? withCap(asSaid(pool), offer, pool.cap ?? null) : pool);
    });
  // Where all is firm the pools stay as they are, to be taken up again.
  return { firm: Math.min(firm, most), ...(chosen.length > 0 ? { pools: chosen } : {}), ...(order ? { order } : {}) };
}
