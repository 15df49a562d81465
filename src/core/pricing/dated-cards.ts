import { type CapabilitiesByAccount, capabilitiesFor } from "../plan";
import type { Capabilities } from "../plan/capabilities";
import type { Resource } from "../plan/resource";
import type { Instant } from "../time";
import { isPricedAlike, type PriceBook, priceShape, type RateCard, rateCard } from "./book";
import type { PriceHistory } from "./history";
import { lastOf } from "./track";

/** A rate card from an instant until the next one's. */
export type DatedCard = Readonly<{ from: Instant; card: RateCard }>;

/** The cards of one resource over `[from, to)`, the first beginning at or before `from`; null for a provider that has not said its rules. */
export type CardsOver = (resource: Resource, from: Instant, to: Instant) => readonly DatedCard[] | null;

type CardsOfShape = (from: Instant, to: Instant) => readonly DatedCard[];
type Known = Readonly<{ of: Resource; cards: CardsOfShape }>;

/** Reads cards over time, each kind of resource once for every change of prices in the time that is asked about. */
export function cardsOver(history: PriceHistory, capabilities: CapabilitiesByAccount): CardsOver {
  const byRules = new Map<Capabilities, Map<string, CardsOfShape>>();
  // Thousands are asked for at every look: a resource that was asked before, or a copy of it as of
  // another instant, which shares its fields, is not even described again.
  const byFields = new WeakMap<Resource["fields"], Known>();
  const read: CardsOver = (resource, from, to) => {
    if (resource.earlier.length > 0 && from < (resource.earlier.at(-1)?.until ?? from))
      return acrossListings(resource, { from, to, read });
    const own = capabilitiesFor(resource, capabilities);
    if (!own) return null;
    const known = byFields.get(resource.fields);
    if (known && isPricedAlike(known.of, resource)) return known.cards(from, to);
    const byShape = byRules.get(own) ?? new Map<string, CardsOfShape>();
    byRules.set(own, byShape);
    const shape = priceShape(resource);
    const cards = byShape.get(shape) ?? cardsOfShape(resource, { history, capabilities: own });
    byShape.set(shape, cards);
    byFields.set(resource.fields, { of: resource, cards });
    return cards(from, to);
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

type Rules = Readonly<{ history: PriceHistory; capabilities: Capabilities }>;

/** A card for each change of the prices that this resource asks for; made when its time is first asked about. */
function cardsOfShape(resource: Resource, { history, capabilities }: Rules): CardsOfShape {
  const edges = edgesOf(resource, { history, capabilities });
  const made: DatedCard[] = [];
  const cardAt = (i: number): DatedCard => {
    const from = edges[i] as Instant;
    made[i] ??= { from, card: rateCard(resource, history.bookAt(from), capabilities) };
    return made[i];
  };
  let last: Readonly<{ first: number; end: number; cards: readonly DatedCard[] }> = { first: -1, end: -1, cards: [] };
  return (from, to) => {
    const first = Math.max(0, lastOf(edges, from));
    const until = lastOf(edges, to);
    const end = Math.max(first + 1, edges[until] === to ? until : until + 1);
    if (last.first === first && last.end === end) return last.cards;
    const cards: DatedCard[] = [];
    for (let i = first; i < end; i++) {
      const dated = cardAt(i);
      const before = cards.at(-1);
      // A line that says what counted before makes no new card.
      if (!before || !isSameRates(before.card, dated.card)) cards.push(dated);
    }
    last = { first, end, cards };
    return cards;
  };
}

/** The instants at which a price that this resource asks for may change, in order, the first before all time. */
function edgesOf(resource: Resource, { history, capabilities }: Rules): Float64Array {
  const instants = new Set<Instant>([Number.NEGATIVE_INFINITY]);
  const noting: PriceBook = {
    find(query) {
      const lookup = history.lookup(query);
      for (const instant of lookup.changes()) instants.add(instant);
      return lookup.at(Number.NEGATIVE_INFINITY);
    },
  };
  rateCard(resource, noting, capabilities);
  return Float64Array.from(instants).sort();
}

function isSameRates(a: RateCard, b: RateCard): boolean {
  return (
    a.perLevel === b.perLevel &&
    a.licencePerCore === b.licencePerCore &&
    a.licenceCoresMin === b.licenceCoresMin &&
    a.always === b.always &&
    a.addressesOn === b.addressesOn &&
    a.addressesOff === b.addressesOff &&
    a.image === b.image
  );
}
