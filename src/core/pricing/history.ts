import type { Capabilities } from "../plan/capabilities";
import type { Resource } from "../plan/resource";
import type { Instant } from "../time";
import {
  exactKey,
  isPricedAlike,
  type Price,
  type PriceBook,
  type PriceQuery,
  priceKeys,
  priceShape,
  type RateCard,
  rateCard,
} from "./book";

import { type Discount, discountEdges, discounted, discountOn } from "./discounts";

/** A price from an instant on. Without a rate it ends an override; what a person set goes before what the provider says. */
export type PricePoint = Readonly<
  Omit<Price, "rate"> & { provider: string; rate: string | null; validFrom: Instant; source: "provider" | "hand" }
>;

/** Prices over time. */
export type PriceHistory = Readonly<{
  /** The book as of an instant. Before the first that is known, the first counts. */
  bookAt: (t: Instant) => PriceBook;
  /** The same, but that nothing is found before the first that is known. */
  knownAt: (t: Instant) => PriceBook;
  /** Every instant at which what is found for a query may change. */
  changesOf: (query: PriceQuery) => readonly Instant[];
}>;

type Track = Readonly<{ hand: readonly PricePoint[]; provider: readonly PricePoint[] }>;

/** Makes a history of points in any order, less the discounts on what the provider says. */
export function priceHistory(points: readonly PricePoint[], discounts: readonly Discount[] = []): PriceHistory {
  const tracks = new Map<string, { hand: PricePoint[]; provider: PricePoint[] }>();
  for (const point of [...points].sort((a, b) => a.validFrom - b.validFrom)) {
    const key = exactKey(point);
    const track = tracks.get(key) ?? { hand: [], provider: [] };
    track[point.source].push(point);
    tracks.set(key, track);
  }
  const book = (t: Instant, isEarlierToo: boolean): PriceBook => ({
    find(query: PriceQuery) {
      let first: PricePoint | undefined;
      for (const key of priceKeys(query)) {
        const track = tracks.get(key);
        if (!track) continue;
        const price = priceAt(track, t);
        if (price) return price.source === "hand" ? (price as Price) : lessDiscount(price, discounts, t);
        // What was told of all zones before one was told apart was known sooner.
        const [earliest] = track.provider;
        if (earliest && (!first || earliest.validFrom < first.validFrom)) first = earliest;
      }
      return first && isEarlierToo ? lessDiscount(first, discounts, t) : null;
    },
  });
  return {
    bookAt: (t) => book(t, true),
    knownAt: (t) => book(t, false),
    changesOf(query) {
      const instants: Instant[] = [];
      for (const key of priceKeys(query)) {
        const { hand = [], provider = [] } = tracks.get(key) ?? {};
        for (const { validFrom } of [...hand, ...provider]) instants.push(validFrom);
      }
      for (const discount of discounts) if (discount.provider === query.provider) instants.push(...discountEdges(discount));
      return instants;
    },
  };
}

function priceAt({ hand, provider }: Track, t: Instant): PricePoint | undefined {
  const own = lastBy(hand, t);
  return own && own.rate !== null ? own : lastBy(provider, t);
}

function lessDiscount(price: PricePoint, discounts: readonly Discount[], t: Instant): Price {
  const percent = discounts.length === 0 ? null : discountOn(discounts, price, t);
  return (percent === null ? price : { ...price, rate: discounted(price.rate ?? "0", percent) }) as Price;
}

function lastBy(points: readonly PricePoint[], t: Instant): PricePoint | undefined {
  let low = 0;
  let high = points.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((points[middle] as PricePoint).validFrom <= t) low = middle + 1;
    else high = middle;
  }
  return points[low - 1];
}

/** A rate card from an instant until the next one's. */
export type DatedCard = Readonly<{ from: Instant; card: RateCard }>;

/** The cards of one resource over `[from, to)`, the first beginning at or before `from`; null for a provider that has not said its rules. */
export type CardsOver = (resource: Resource, from: Instant, to: Instant) => readonly DatedCard[] | null;

type Known = Readonly<{ of: Resource; cards: readonly DatedCard[] }>;

/** Reads cards over time, each kind of resource once for every change of prices. */
export function cardsOver(history: PriceHistory, capabilities: ReadonlyMap<string, Capabilities>): CardsOver {
  const byShape = new Map<string, readonly DatedCard[]>();
  // Thousands are asked for at every look: a resource that was asked before, or a copy of it as of
  // another instant, which shares its fields, is not even described again.
  const byFields = new WeakMap<Resource["fields"], Known>();
  const read: CardsOver = (resource, from, to) => {
    if (resource.earlier.length > 0 && from < (resource.earlier.at(-1)?.until ?? from))
      return acrossListings(resource, { from, to, read });
    const own = capabilities.get(resource.fields.provider ?? "");
    if (!own) return null;
    const known = byFields.get(resource.fields);
    if (known && isPricedAlike(known.of, resource)) return within(known.cards, from, to);
    const shape = priceShape(resource);
    const cards = byShape.get(shape) ?? datedCards(resource, { history, capabilities: own });
    byShape.set(shape, cards);
    byFields.set(resource.fields, { of: resource, cards });
    return within(cards, from, to);
  };
  return read;
}

/** The cards of a resource that was listed otherwise once: each listing's for its own time. */
function acrossListings(
  resource: Resource,
  { from, to, read }: { from: Instant; to: Instant; read: CardsOver },
): readonly DatedCard[] | null {
  const cards: DatedCard[] = [];
  let start = Number.NEGATIVE_INFINITY;
  const listings = [...resource.earlier, { until: Number.POSITIVE_INFINITY, was: resource }];
  for (const { until, was } of listings) {
    const span = { from: Math.max(from, start), to: Math.min(to, until) };
    const own = span.from < span.to ? read(was, span.from, span.to) : [];
    if (!own) return null;
    for (const dated of own) cards.push({ ...dated, from: Math.max(dated.from, start) });
    start = until;
  }
  return cards;
}

function within(cards: readonly DatedCard[], from: Instant, to: Instant): readonly DatedCard[] {
  if (cards.length === 1) return cards;
  return cards.filter((dated, i) => dated.from < to && (cards[i + 1]?.from ?? Number.POSITIVE_INFINITY) > from);
}

/** A card for each change of the prices that this resource asks for; the others are never looked at. */
function datedCards(
  resource: Resource,
  { history, capabilities }: { history: PriceHistory; capabilities: Capabilities },
): DatedCard[] {
  const instants = new Set<Instant>([Number.NEGATIVE_INFINITY]);
  const first = history.bookAt(Number.NEGATIVE_INFINITY);
  const noting: PriceBook = {
    find(query) {
      for (const instant of history.changesOf(query)) instants.add(instant);
      return first.find(query);
    },
  };
  rateCard(resource, noting, capabilities);
  const cards: DatedCard[] = [];
  let last = "";
  for (const from of [...instants].sort((a, b) => a - b)) {
    const card = rateCard(resource, history.bookAt(from), capabilities);
    const rates = ratesOf(card);
    // A line that says what counted before makes no new card.
    if (rates !== last) cards.push({ from, card });
    last = rates;
  }
  return cards;
}

function ratesOf(card: RateCard): string {
  const { perLevel, licencePerCore, licenceCoresMin, always, addressesOn, addressesOff, image } = card;
  return `${perLevel} ${licencePerCore} ${licenceCoresMin} ${always} ${addressesOn} ${addressesOff} ${image}`;
}
