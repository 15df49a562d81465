import type { Level } from "@/core/hours";
import { type PoolObserved, poolReader, provisionMinutes, type Rate } from "@/core/mix";
import { capabilitiesFor, isGuarded, type Resource } from "@/core/plan";
import { cardReader, computePerSecond, roughlyPerHour } from "@/core/pricing";
import { claimerAbove } from "@/core/rounds";
import { matcher, tryParseSelector } from "@/core/selector";
import { DAY_S } from "@/core/time";
import { priceBooks, pricedSizes, startTimes } from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../admin";
import { currencyOf, loadSnapshot } from "../inventory";
import { observedInRegion, SEEN_DAYS } from "./observed";
import { pricesSeen } from "./prices-seen";

/** A size in a zone that a part of a fleet could run on at spot price. Money per machine-hour. */
export type MixOffer = Readonly<{
  name: string;
  size: string;
  zone: string;
  /** Machines of the fleet's own size that one of these stands for. */
  units: number;
  price: number;
  /** The price of every hour of the last weeks as far as it is known, the oldest first and the last of now. */
  prices: readonly number[];
  /** Why it cannot be spot; null where it can. */
  whyNot: string | null;
  /** What was seen of its size in the region, at any price of its own, and what that says of those that go alone, and of waves. */
  evictions: number;
  machineHours: number;
  rate: Rate;
  waves: PoolObserved["waves"];
  /** When it was to be had in its zone and when not, as far as answers to orders and evictions say. */
  spells: PoolObserved["spells"];
  /** The most of its size that ran in its zone at once, at spot price. */
  mostAtOnce: number;
  /** Evictions by hour of the day (UTC). */
  byHour: readonly number[];
}>;

/** What the group of a selector is of, what that costs at full price, and what of it could be spot. */
export type MixOffers = Readonly<{
  currency: string;
  size: string;
  os: string;
  region: string;
  /** Units that run now, and that on means. */
  units: number;
  ownUnits: number;
  /** Compute and licence of one unit at full price, per hour. */
  firmPrice: number;
  /** The same at the price that it has now. */
  ownPrice: number;
  /** Disks of one machine, per hour. */
  diskPrice: number;
  provisionMinutes: number;
  noticeS: number;
  offers: readonly MixOffer[];
  /** The groups that match: a mix is kept for one. */
  groups: number;
  /** Of what matches, how many are no group, or one of another size, OS or region: they are in no figure of a mix. */
  others: number;
}>;

/** `fleetId`: the fleet whose rank counts; null for one that is new, which ranks last. */
export type MixOffersQuery = Readonly<{ selector: string; fleetId?: number | null }>;

/**
 * Where the capacity of a fleet could come from, by the prices of now and what was seen of evictions in the last four
 * weeks; null where nothing that it matches is a group.
 */
export async function mixOffers(
  services: Services,
  actor: Actor,
  { selector, fleetId = null }: MixOffersQuery,
): Promise<MixOffers | null> {
  authorise(actor, "look", ESTATE);
  const parsed = tryParseSelector(selector);
  if (!parsed.ok) return null;
  const [{ now }, snapshot, { history }] = await Promise.all([
    services.clock.read(),
    loadSnapshot(services),
    priceBooks(services.pool),
  ]);
  // What a guard or a fleet above has is none of this one's.
  const rank = snapshot.fleets.find(({ id }) => id === fleetId)?.rank ?? Number.POSITIVE_INFINITY;
  const above = claimerAbove(snapshot.fleets, rank);
  const matched = snapshot.schedulable
    .filter(matcher(parsed.selector))
    .filter((resource) => !isGuarded(resource) && above(resource) === null);
  // Single machines and services have no members to be made of anything else.
  const groups = matched.filter(({ kind }) => kind === "group");
  const own = mostOf(groups);
  const [first] = own;
  const capabilities = first && capabilitiesFor(first, snapshot.capabilities);
  if (!first || !capabilities) return null;
  const { provider = "", region = "", os = "", size = "" } = first.fields;
  const asFirm: Resource = { ...first, fields: { ...first.fields, purchase: "firm" } };
  const card = cardReader(history.bookAt(now), snapshot.capabilities)(asFirm);
  if (!card) return null;
  const firmPrice = roughlyPerHour(computePerSecond(card, 1 as Level));
  const from = now - SEEN_DAYS * DAY_S;
  const alike = snapshot.resources.filter(
    ({ fields }) => fields.provider === provider && fields.region === region && fields.purchase === "spot",
  );
  const [priced, starts, seen] = await Promise.all([
    pricedSizes(services.pool, provider, region),
    startTimes(
      services.pool,
      alike.map(({ id }) => id),
      from,
    ),
    observedInRegion(services.pool, { provider, region }, now),
  ]);
  const knownOf = poolReader(seen);
  const cores = coresBySize(snapshot.resources.filter(({ fields }) => fields.provider === provider));
  const sizes = [...new Set([size, ...priced])];
  const zones = capabilities.regions.find(({ name }) => name === region)?.zones ?? [];
  const offers = sizes.flatMap((one) => {
    const units = (cores.get(one) ?? 0) / (cores.get(size) ?? 1);
    const isIneligible = capabilities.spot.ineligibleSizes.includes(one);
    return zones.map((zone): MixOffer => {
      const { own, ...known } = knownOf({ size: one, zone });
      const prices = pricesSeen(history, { provider, region, zone, size: one, os }, { from, to: now });
      const price = prices.at(-1);
      return {
        size: one,
        units: Math.max(1, Math.floor(units)),
        price: price ?? 0,
        prices,
        whyNot: whyNot({ size: one, isIneligible, units, price, firmPrice }),
        ...known,
        name: `${one} ${zone}`,
        zone,
        evictions: own.gone.reduce((sum, { count }) => sum + count, 0),
        machineHours: own.machineHours,
        mostAtOnce: own.mostAtOnce.get(zone) ?? 0,
        byHour: Array.from({ length: 24 }, (_, h) =>
          own.gone.reduce((sum, { at, count }) => sum + (Math.floor(at) % 24 === h ? count : 0), 0),
        ),
      };
    });
  });
  return {
    currency: currencyOf(snapshot),
    size,
    os,
    region,
    units: own.reduce((sum, { level }) => sum + level, 0),
    ownUnits: own.reduce((sum, { ownSize }) => sum + ownSize, 0),
    firmPrice,
    ownPrice: roughlyPerHour(computePerSecond(cardReader(history.bookAt(now), snapshot.capabilities)(first) ?? card, 1 as Level)),
    diskPrice: roughlyPerHour(card.always),
    provisionMinutes: provisionMinutes(
      starts.flatMap(({ seconds, isResume }) => (isResume ? [] : [seconds])),
      capabilities.usualS.start,
    ),
    noticeS: capabilities.spot.noticeS,
    offers,
    groups: groups.length,
    others: matched.length - own.length,
  };
}

/** The largest part of one size, OS and region, by how much of it there is. */
function mostOf(resources: readonly Resource[]): readonly Resource[] {
  const parts = new Map<string, Resource[]>();
  for (const resource of resources) {
    const { provider, region, size, os } = resource.fields;
    const key = [provider, region, size, os].join("\n");
    const part = parts.get(key);
    if (part) part.push(resource);
    else parts.set(key, [resource]);
  }
  const unitsOf = (part: readonly Resource[]) => part.reduce((sum, { ownSize }) => sum + ownSize, 0);
  return [...parts.values()].sort((a, b) => unitsOf(b) - unitsOf(a))[0] ?? [];
}

function coresBySize(resources: readonly Resource[]): ReadonlyMap<string, number> {
  return new Map(resources.flatMap(({ fields, cores }) => (fields.size && cores > 0 ? [[fields.size, cores] as const] : [])));
}

type Offered = Readonly<{ size: string; isIneligible: boolean; units: number; price: number | undefined; firmPrice: number }>;

function whyNot({ size, isIneligible, units, price, firmPrice }: Offered): string | null {
  if (isIneligible) return `its provider has no spot for ${size}`;
  if (price === undefined) return "no spot price of it is in the book";
  if (units === 0) return "its cores are not known";
  if (units < 1) return "it is smaller than one unit";
  return price >= firmPrice * Math.floor(units) ? "its spot price is no lower than the full price" : null;
}
