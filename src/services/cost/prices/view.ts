import { countsAt, type PricePoint } from "@/core/pricing";
import type { Instant } from "@/core/time";
import {
  commitmentList,
  discountList,
  lastPriceImport,
  type PriceImport,
  pricePoints,
  type StoredCommitment,
  type StoredDiscount,
  type StoredPrice,
} from "@/store";
import { authorise, type Person, type Services } from "../../admin";
import { currencyOf, loadWorld } from "../../inventory";

/** A key of the price book with what counts at an instant, and every line of its history, newest first. */
export type PriceRow = Readonly<{
  key: string;
  provider: string;
  region: string;
  item: string;
  what: string;
  unit: string;
  rate: string;
  coresMin: number;
  source: "provider" | "hand";
  since: Instant;
  /** What the provider says, where a person set another rate. */
  told: string | null;
  history: readonly StoredPrice[];
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
export async function priceBookView(services: Services, person: Person, asked: Instant | null = null): Promise<PriceBookView> {
  authorise(person, "look");
  const [{ now }, world, points, commitments, discounts, lastImport] = await Promise.all([
    services.clock.read(),
    loadWorld(services),
    pricePoints(services.pool),
    commitmentList(services.pool),
    discountList(services.pool),
    lastPriceImport(services.pool),
  ]);
  const at = asked ?? now;
  const byKey = new Map<string, StoredPrice[]>();
  for (const point of points) {
    const key = keyOf(point);
    const known = byKey.get(key) ?? [];
    const newer = known.findLast(({ source }) => source === point.source);
    // Newest first: a line that says what the newer one says is where that began.
    const isSame = newer && newer.rate === point.rate && newer.coresMin === point.coresMin;
    byKey.set(key, [...(isSame ? known.filter((one) => one !== newer) : known), point]);
  }
  return {
    at,
    currency: currencyOf(world),
    providers: [...world.capabilities.keys()].sort(),
    rows: [...byKey].flatMap(([key, history]) => rowOf(key, history, at) ?? []).sort((a, b) => (a.key < b.key ? -1 : 1)),
    commitments: commitments.map((commitment) => ({ ...commitment, counts: countsAt(commitment, at) })),
    discounts,
    lastImport,
  };
}

type Priced = Omit<PricePoint, "rate" | "validFrom" | "source" | "coresMin">;

/** What a price is of, field by field; without a zone where it is the same in all of a region. */
export function partsOf(price: Priced): readonly string[] {
  const { provider, region, item, size, os, purchase, zone } = price;
  return [provider, region, item, size, os, purchase, price.class, ...(zone ? [zone] : [])];
}

export function keyOf(price: Priced): string {
  return partsOf(price).join(" | ");
}

function rowOf(key: string, history: readonly StoredPrice[], at: Instant): PriceRow | null {
  const told = history.find(({ source, validFrom }) => source === "provider" && validFrom <= at);
  const hand = history.find(({ source, validFrom }) => source === "hand" && validFrom <= at);
  const isSet = hand !== undefined && hand.rate !== null;
  const counting = isSet ? hand : told;
  if (!counting || counting.rate === null) return null;
  const { provider, region, item, size, os, purchase, class: diskClass, zone, coresMin, validFrom, source } = counting;
  return {
    key,
    provider,
    region,
    item,
    what: [size, os, purchase, diskClass, zone].filter(Boolean).join(", ") || "any",
    unit: item === "disk" || item === "image" ? "GiB-month" : item === "licence" ? "core-hour" : "hour",
    rate: counting.rate,
    coresMin,
    source,
    since: validFrom,
    told: isSet ? (told?.rate ?? null) : null,
    history,
  };
}

export type { PriceImport };
