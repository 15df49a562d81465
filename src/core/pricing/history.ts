import type { Instant } from "../time";
import { exactKey, type Price, type PriceBook, type PriceQuery, priceKeys } from "./book";
import { type Discount, discountEdges, discounted, discountOn } from "./discounts";
import { lastOf, type PriceTrack, pointOf } from "./track";

/** What counts for one query over time: the most exact price that is known by then, by hand before as told. */
export type PriceLookup = Readonly<{
  /** As of an instant. Before the first that is known, the first counts. */
  at: (t: Instant) => Price | null;
  /** The same, but that nothing is found before the first that is known. */
  knownAt: (t: Instant) => Price | null;
  /** Every instant at which it may change, in no order. */
  changes: () => readonly Instant[];
}>;

/** Prices over time. */
export type PriceHistory = Readonly<{
  lookup: (query: PriceQuery) => PriceLookup;
  /** The book as of an instant. Before the first that is known, the first counts. */
  bookAt: (t: Instant) => PriceBook;
}>;

type Told = { hand?: PriceTrack; provider?: PriceTrack };

/** Makes a history of tracks, less the discounts on what the provider says. */
export function priceHistory(tracks: Iterable<PriceTrack>, discounts: readonly Discount[] = []): PriceHistory {
  const told = new Map<string, Told>();
  for (const track of tracks) {
    const key = exactKey(track.of);
    const known = told.get(key) ?? {};
    known[track.source] = track;
    told.set(key, known);
  }
  // The same is asked at instant after instant: where its answers stand is found once.
  const lookups = new Map<string, PriceLookup>();
  const lookup = (query: PriceQuery): PriceLookup => {
    const key = exactKey(query);
    const known = lookups.get(key) ?? lookupOf(query, { told, discounts });
    lookups.set(key, known);
    return known;
  };
  return { lookup, bookAt: (t) => ({ find: (query) => lookup(query).at(t) }) };
}

type Book = Readonly<{ told: ReadonlyMap<string, Told>; discounts: readonly Discount[] }>;

function lookupOf(query: PriceQuery, { told, discounts }: Book): PriceLookup {
  const found = Array.from(priceKeys(query), (key) => told.get(key)).filter((one) => one !== undefined);
  const lessDiscount = (track: PriceTrack, i: number, t: Instant): Price => {
    const price = pointOf(track, i);
    const percent = discounts.length === 0 ? null : discountOn(discounts, price, t);
    return (percent === null ? price : { ...price, rate: discounted(price.rate ?? "0", percent) }) as Price;
  };
  const knownAt = (t: Instant): Price | null => {
    for (const { hand, provider } of found) {
      const set = hand ? lastOf(hand.from, t) : -1;
      if (hand && set >= 0 && hand.rates[set] !== null) return pointOf(hand, set) as Price;
      const last = provider ? lastOf(provider.from, t) : -1;
      if (provider && last >= 0) return lessDiscount(provider, last, t);
    }
    return null;
  };
  // What was told of all zones before one was told apart was known sooner.
  let first: PriceTrack | undefined;
  for (const { provider } of found)
    if (provider && (!first || (provider.from[0] as Instant) < (first.from[0] as Instant))) first = provider;
  return {
    knownAt,
    at: (t) => knownAt(t) ?? (first ? lessDiscount(first, 0, t) : null),
    changes: () => [
      ...found.flatMap(({ hand, provider }) => [...(hand?.from ?? []), ...(provider?.from ?? [])]),
      ...discounts.filter((discount) => discount.provider === query.provider).flatMap(discountEdges),
    ],
  };
}
