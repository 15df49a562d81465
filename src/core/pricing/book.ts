import { z } from "zod";
import type { Level } from "../hours";
import { type CapabilitiesByAccount, capabilitiesFor } from "../plan";
import type { Capabilities } from "../plan/capabilities";
import type { Resource } from "../plan/resource";
import {
  type AmountPerSecond,
  addRates,
  NO_RATE,
  perSecondOfHourly,
  perSecondOfMonthly,
  tryParseHourRate,
  tryParseMonthRate,
} from "./money";
import type { Billing } from "./run";

export const PRICE_ITEMS = [
  "compute",
  "licence",
  "disk",
  "address running",
  "address stopped",
  "address unattached",
  "image",
] as const;

/** One rate of a provider. An empty `size`, `os`, `purchase`, `class` or `zone` stands for any. */
export const priceSchema = z.strictObject({
  region: z.string(),
  item: z.enum(PRICE_ITEMS),
  size: z.string().default(""),
  os: z.string().default(""),
  purchase: z.string().default(""),
  class: z.string().default(""),
  zone: z.string().default(""),
  /** Per hour (compute, licence per core, addresses) or per GiB-month (disk, image). */
  rate: z.string().refine((text) => tryParseHourRate(text) !== null, "expected a decimal from 0 with at most nine decimals"),
  coresMin: z.number().int().min(0).default(0),
});

export type Price = z.infer<typeof priceSchema>;

/** Looks rates up; made once per read of the price list. */
export type PriceBook = Readonly<{ find: (query: PriceQuery) => Price | null }>;

export type PriceQuery = Readonly<{
  provider: string;
  region: string;
  item: Price["item"];
  size?: string;
  os?: string;
  purchase?: string;
  class?: string;
  zone?: string;
}>;

/** A book of the prices of several providers, as of one instant. The most exact entry wins: an empty field stands for any value. */
export function priceBook(lists: ReadonlyMap<string, readonly Price[]>): PriceBook {
  const index = new Map<string, Price>();
  for (const [provider, prices] of lists) {
    for (const price of prices) index.set(exactKey({ provider, ...price }), price);
  }
  return {
    find(query) {
      for (const key of priceKeys(query)) {
        const price = index.get(key);
        if (price) return price;
      }
      return null;
    },
  };
}

/** The keys under which a price may stand, the most exact first. */
export function* priceKeys(query: PriceQuery): Generator<string> {
  for (const size of either(query.size)) {
    for (const os of either(query.os)) {
      for (const purchase of either(query.purchase)) {
        for (const diskClass of either(query.class))
          for (const zone of either(query.zone)) yield exactKey({ ...query, size, os, purchase, class: diskClass, zone });
      }
    }
  }
}

function either(value: string | undefined): readonly string[] {
  return value ? [value, ""] : [""];
}

/** The key of exactly these fields. */
export function exactKey(query: PriceQuery): string {
  return [
    query.provider,
    query.region,
    query.item,
    query.size ?? "",
    query.os ?? "",
    query.purchase ?? "",
    query.class ?? "",
    query.zone ?? "",
  ].join("\n");
}

/** Everything one resource costs, as exact amounts per second. */
export type RateCard = Readonly<{
  /** Compute per unit of level (a machine, a member, a core). */
  perLevel: AmountPerSecond;
  licencePerCore: AmountPerSecond;
  licenceCoresMin: number;
  /** Cores that carry the licence: fixed for machines and members, null where the level counts cores. */
  licenceCores: number | null;
  billing: Billing;
  /** Disks: whatever the state. */
  always: AmountPerSecond;
  addressesOn: AmountPerSecond;
  addressesOff: AmountPerSecond;
  image: AmountPerSecond;
  /** Compute goes on while the machine is shut down from inside. */
  billedWhenHalted: boolean;
  /** What has no price in the book; empty when everything has. */
  unpriced: readonly string[];
}>;

/** Makes the rate card of a resource. What has no price counts as nothing and is named in `unpriced`. */
export function rateCard(resource: Resource, book: PriceBook, capabilities: Capabilities): RateCard {
  const { region = "", zone = "", size = "", os = "", purchase = "" } = resource.fields;
  const provider = capabilities.provider;
  const unpriced: string[] = [];
  const find = (item: Price["item"], more: Partial<PriceQuery> = {}): Price | null => {
    const price = book.find({ provider, region, zone, item, ...more });
    if (!price) unpriced.push([item, ...Object.values(more)].filter(Boolean).join(" "));
    return price;
  };
  const hourly = (price: Price | null, times = 1) =>
    price ? perSecondOfHourly(parsed(tryParseHourRate(price.rate)), times) : NO_RATE;
  const monthly = (price: Price | null, gib: number) =>
    price ? perSecondOfMonthly(parsed(tryParseMonthRate(price.rate)), gib) : NO_RATE;

  const isCompute = resource.kind !== "disk" && resource.kind !== "address";
  // A member is billed as the machine that it is.
  const billedAs = resource.kind === "group" || resource.kind === "service" ? resource.kind : "machine";
  const licence = isCompute ? book.find({ provider, region, zone, item: "licence", size, os }) : null;
  const isUnattached = resource.attachedTo === null && !isCompute;
  const address = (state: "running" | "stopped") =>
    resource.addresses === 0
      ? NO_RATE
      : hourly(find(isUnattached ? "address unattached" : `address ${state}`), resource.addresses);
  return {
    perLevel: isCompute ? hourly(find("compute", { size, os, purchase })) : NO_RATE,
    licencePerCore: hourly(licence),
    licenceCoresMin: licence?.coresMin ?? 0,
    licenceCores: resource.kind === "service" ? null : resource.cores,
    billing: capabilities.billing[billedAs],
    always: resource.diskGib > 0 ? monthly(find("disk", { class: resource.diskClass }), resource.diskGib) : NO_RATE,
    addressesOn: address("running"),
    addressesOff: address("stopped"),
    image: resource.kind === "machine" && capabilities.hibernate ? monthly(find("image"), resource.memoryGib) : NO_RATE,
    billedWhenHalted: capabilities.billedWhenHalted,
    unpriced: [...new Set(unpriced)],
  };
}

/** What sets the price of a resource; two that agree in all of it share their cards. */
export function priceShape({ kind, fields, cores, memoryGib, diskGib, diskClass, addresses, attachedTo }: Resource): string {
  const { provider, region, zone, size, os, purchase } = fields;
  return `${provider}|${region}|${zone}|${kind}|${size}|${os}|${purchase}|${cores}|${memoryGib}|${diskGib}|${diskClass}|${addresses}|${attachedTo === null}`;
}

/** True for two that share their fields and agree in all else that sets the price. */
export function isPricedAlike(a: Resource, b: Resource): boolean {
  return (
    a.fields === b.fields &&
    a.kind === b.kind &&
    a.cores === b.cores &&
    a.memoryGib === b.memoryGib &&
    a.diskGib === b.diskGib &&
    a.diskClass === b.diskClass &&
    a.addresses === b.addresses &&
    (a.attachedTo === null) === (b.attachedTo === null)
  );
}

/** Makes rate cards for many resources, one for each kind of them; null for a provider that has not said its rules. */
export function cardReader(book: PriceBook, capabilities: CapabilitiesByAccount): (resource: Resource) => RateCard | null {
  const cards = new Map<Capabilities, Map<string, RateCard>>();
  return (resource) => {
    const own = capabilitiesFor(resource, capabilities);
    if (!own) return null;
    const alike = cards.get(own) ?? new Map<string, RateCard>();
    cards.set(own, alike);
    const shape = priceShape(resource);
    const card = alike.get(shape) ?? rateCard(resource, book, own);
    alike.set(shape, card);
    return card;
  };
}

function parsed<T>(rate: T | null): T {
  if (rate === null) throw new Error("a price's rate is checked when it is read");
  return rate;
}

/** Compute and licence per second at a level. */
export function computePerSecond(card: RateCard, level: Level): AmountPerSecond {
  if (level === 0) return NO_RATE;
  return (card.perLevel * BigInt(level) + licencePerSecond(card, level)) as AmountPerSecond;
}

/** The licence alone, per second at a level above 0. */
export function licencePerSecond(card: RateCard, level: Level): AmountPerSecond {
  const cores = card.licenceCores === null ? level : card.licenceCores * level;
  return (card.licencePerCore * BigInt(Math.max(cores, card.licenceCoresMin))) as AmountPerSecond;
}

/** Everything a resource costs per second in its present state (docs/model.md, Money: the table of states). */
export function costPerSecond(card: RateCard, resource: Pick<Resource, "state" | "level">): AmountPerSecond {
  switch (resource.state) {
    case "running":
    case "starting":
    case "stopping":
      return addRates(computePerSecond(card, resource.level), card.always, card.addressesOn);
    case "halted":
      return addRates(card.billedWhenHalted ? computePerSecond(card, 1 as Level) : NO_RATE, card.always, card.addressesOff);
    case "stopped":
      return addRates(card.always, card.addressesOff);
    case "hibernated":
      return addRates(card.always, card.addressesOff, card.image);
    case "gone":
      return NO_RATE;
  }
}
