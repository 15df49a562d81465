import { countsAt, lastOf, type Priced, type PricePoint, type PriceTrack, pointOf } from "@/core/pricing";
import type { Instant } from "@/core/time";
import {
  commitmentList,
  discountList,
  lastPriceImport,
  type PriceImport,
  type Prices,
  priceBooks,
  type StoredCommitment,
  type StoredDiscount,
} from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../../admin";
import { byProvider, currencyOf, loadSnapshot } from "../../inventory";

/** A key of the price book with what counts at an instant. */
export type PriceRow = Readonly<{
  key: string;
  of: Priced;
  what: string;
  unit: string;
  rate: string;
  coresMin: number;
  source: "provider" | "hand";
  since: Instant;
  /** What the provider says, where a person set another rate. */
  told: string | null;
}>;

export type PriceBookView = Readonly<{
  at: Instant;
  currency: string;
  providers: readonly string[];
  rows: readonly PriceRow[];
  commitments: readonly (StoredCommitment & Readonly<{ counts: boolean }>)[];
  discounts: readonly StoredDiscount[];
  /** The last file of prices that can be taken back. */
  lastImport: PriceImport | null;
}>;

/** The price book as of an instant, and the commitments. */
export async function priceBookView(services: Services, actor: Actor, asked: Instant | null = null): Promise<PriceBookView> {
  authorise(actor, "look", ESTATE);
  const [{ now }, snapshot, prices, commitments, discounts, lastImport] = await Promise.all([
    services.clock.read(),
    loadSnapshot(services),
    priceBooks(services.pool),
    commitmentList(services.pool),
    discountList(services.pool),
    lastPriceImport(services.pool),
  ]);
  const at = asked ?? now;
  return {
    at,
    currency: currencyOf(snapshot),
    providers: [...byProvider(snapshot).keys()].sort(),
    rows: [...bySource(prices)].flatMap(([key, told]) => rowOf(key, told, at) ?? []).sort((a, b) => (a.key < b.key ? -1 : 1)),
    commitments: commitments.map((commitment) => ({ ...commitment, counts: countsAt(commitment, at) })),
    discounts,
    lastImport,
  };
}

/** What a price is of, field by field; without a zone where it is the same in all of a region. */
export function partsOf(price: Priced): readonly string[] {
  const { provider, region, item, size, os, purchase, zone } = price;
  return [provider, region, item, size, os, purchase, price.class, ...(zone ? [zone] : [])];
}

export function keyOf(price: Priced): string {
  return partsOf(price).join(" | ");
}

export type BySource = Readonly<{ hand?: PriceTrack; provider?: PriceTrack }>;

/** Every price by its key, each by whom said it. */
export function bySource({ tracks }: Prices): ReadonlyMap<string, BySource> {
  const rows = new Map<string, BySource>();
  for (const track of tracks.values()) {
    const key = keyOf(track.of);
    rows.set(key, { ...rows.get(key), [track.source]: track });
  }
  return rows;
}

function rowOf(key: string, { hand, provider }: BySource, at: Instant): PriceRow | null {
  const set = hand ? lastOf(hand.from, at) : -1;
  const isSet = hand?.rates[set] !== null && set >= 0;
  const track = isSet ? hand : provider;
  const told = provider ? (provider.rates[lastOf(provider.from, at)] ?? null) : null;
  const first = track ? beganAt(track, lastOf(track.from, at)) : -1;
  if (!track || first < 0) return null;
  const { rate, coresMin, validFrom, source } = pointOf(track, first);
  const { item, size, os, purchase, zone } = track.of;
  return {
    key,
    of: track.of,
    what: [size, os, purchase, track.of.class, zone].filter(Boolean).join(", ") || "any",
    unit: item === "disk" || item === "image" ? "GiB-month" : item === "licence" ? "core-hour" : "hour",
    rate: rate as string,
    coresMin,
    source,
    since: validFrom,
    told: isSet ? told : null,
  };
}

/** Where what stands at a place began: lines that say what the one before says begin nothing. */
export function beganAt({ rates, coresMin }: PriceTrack, i: number): number {
  let first = i;
  while (first > 0 && rates[first - 1] === rates[i] && coresMin[first - 1] === coresMin[i]) first--;
  return first;
}

/** What was said last of a price; null where there is no such line in the book. */
export function lastSaid(prices: Prices, key: string): PricePoint | null {
  const told = bySource(prices).get(key);
  const ends = [told?.hand, told?.provider].flatMap((track) => (track ? [pointOf(track, track.from.length - 1)] : []));
  return ends.sort((a, b) => b.validFrom - a.validFrom)[0] ?? null;
}

export type { PriceImport };
