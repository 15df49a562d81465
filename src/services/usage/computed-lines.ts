import type { WrittenLine } from "@/core/focus";
import { listedAt, providerIdOf, type Resource } from "@/core/plan";
import {
  type Amount,
  amountOf,
  type Commitment,
  type CoverRun,
  commitmentEdges,
  countsAt,
  coveredByAny,
  coverOver,
  covers,
  divideHalfEven,
  feePerSecond,
  formatExact,
  NO_RATE,
} from "@/core/pricing";
import { billedRuns, type CostItem, type CostPiece, costPieces } from "@/core/spend";
import { DAY_S, dayNumber, formatInstant, HOUR_S, type Instant } from "@/core/time";
import { fullInventory, type Lives, livesOf, type Prices, priceBooks } from "@/store";
import type { Services } from "../admin";
import { cardsOf, computeLives } from "../cost";
import { currencyOf, loadSnapshot, type Snapshot } from "../inventory";

const SERVICES: Readonly<Record<CostItem, Readonly<{ category: string; name: string }>>> = {
  compute: { category: "Compute", name: "Machines" },
  licence: { category: "Compute", name: "Licences" },
  disk: { category: "Storage", name: "Disks" },
  image: { category: "Storage", name: "Hibernation images" },
  address: { category: "Networking", name: "Addresses" },
};

/**
 * What was reckoned for UTC days, both included, a day at a time, up to now: a line for each resource,
 * item, rate and day, what commitments paid of it taken off what is billed, and their fees as purchases.
 * The sums of `BilledCost` are the days' money after commitments; those of `ContractedCost` over usage
 * are before them.
 */
export async function* computedLines(
  services: Services,
  { from, to }: Readonly<{ from: string; to: string }>,
): AsyncGenerator<readonly WrittenLine[]> {
  const { pool, clock } = services;
  const [{ now }, snapshot, prices, all] = await Promise.all([
    clock.read(),
    loadSnapshot(services),
    priceBooks(pool),
    fullInventory(pool),
  ]);
  for (let day = dayNumber(from); day <= dayNumber(to) && day * DAY_S < now; day++) {
    const span = { from: day * DAY_S, to: Math.min(now, (day + 1) * DAY_S) };
    const knownTo = Math.min(now, span.to + 1);
    const lives = await livesOf(pool, null, { from: span.from, to: knownTo });
    yield linesOfDay({ snapshot, prices, all, lives, ...span, knownTo });
  }
}

type Day = Readonly<{
  snapshot: Snapshot;
  prices: Prices;
  all: readonly Resource[];
  lives: Lives;
  from: Instant;
  to: Instant;
  knownTo: Instant;
}>;

function linesOfDay(day: Day): WrittenLine[] {
  const { snapshot, prices, all, lives, from, to, knownTo } = day;
  const { capabilities } = snapshot;
  const costs = computeLives(lives, { resources: all, capabilities, prices, from, to, knownTo });
  const coveredOf = (id: string) => [...(costs.get(id)?.values() ?? [])].reduce((sum, { covered }) => sum + covered, 0n);
  const used = usedOf(day);
  const allCovered = all.reduce((sum, { id }) => sum + coveredOf(id), 0n);
  const amortised = used.reduce((sum, { usedFee }) => sum + usedFee, 0n);
  const usage = all.flatMap((resource) =>
    linesOfResource(resource, {
      day,
      life: lives.get(resource.id) ?? [],
      covered: coveredOf(resource.id),
      amortisedOf: (part) => (allCovered === 0n ? 0n : divideHalfEven(part * amortised, allCovered)),
    }),
  );
  const frame = { from, to, currency: currencyOf(snapshot) };
  return [...usage, ...used.flatMap((one) => feeLines(one, frame))];
}

type Used = Readonly<{ commitment: Commitment; fee: bigint; usedFee: bigint }>;

/** What each commitment costs over the day, and the part of it whose units were in use. */
function usedOf({ snapshot, prices, all, lives, from, to }: Day): Used[] {
  const { commitments } = prices;
  const cardsOver = cardsOf(prices, snapshot.capabilities);
  const runs = all.flatMap((resource): CoverRun[] => {
    const one = listedAt(resource, from);
    return coveredByAny(commitments, one)
      ? billedRuns(lives.get(one.id) ?? [], cardsOver(one, from, to) ?? []).map((run) => ({ ...run, one, perLevel: NO_RATE }))
      : [];
  });
  const { usedS } = coverOver(commitments, runs, { from, to });
  return commitments.flatMap((commitment, i): Used[] => {
    const [begins, ends] = commitmentEdges(commitment);
    const seconds = Math.min(to, ends) - Math.max(from, begins);
    if (seconds <= 0) return [];
    const fee = amountOf(seconds, feePerSecond(commitment)) as bigint;
    const share = BigInt(Math.round(usedS[i] ?? 0));
    return [{ commitment, fee, usedFee: divideHalfEven(fee * share, BigInt(commitment.units * seconds)) }];
  });
}

type Frame = Readonly<{ from: Instant; to: Instant; currency: string }>;

function periodOf({ from, to, currency }: Frame): WrittenLine {
  const date = new Date(from * 1000);
  const month = (i: number) => formatInstant(Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + i, 1) / 1000);
  return {
    BillingCurrency: currency,
    BillingPeriodStart: month(0),
    BillingPeriodEnd: month(1),
    ChargePeriodStart: formatInstant(from),
    ChargePeriodEnd: formatInstant(to),
  };
}

type OfResource = Readonly<{
  day: Day;
  life: Parameters<typeof costPieces>[0]["life"];
  covered: bigint;
  amortisedOf: (covered: bigint) => bigint;
}>;

/** Priced as it was listed at each instant; named and tagged as it was when the day began. */
function linesOfResource(resource: Resource, { day, life, covered, amortisedOf }: OfResource): WrittenLine[] {
  const { snapshot, prices, from, to, knownTo } = day;
  const listed = listedAt(resource, from);
  const pieces = (history: Prices["history"]) => {
    const cards = cardsOf({ history }, snapshot.capabilities)(resource, life[0]?.from ?? from, to) ?? [];
    return summedUp(costPieces({ life, cards, from, to, knownTo }));
  };
  const [ours, asked] = [pieces(prices.history), pieces(prices.listed)];
  const compute = ours.filter(({ item }) => item === "compute").reduce((sum, { amount }) => sum + amount, 0n);
  let leftToCover = covered;
  return ours.flatMap((sum): WrittenLine[] => {
    const isLast = sum === ours.findLast(({ item }) => item === "compute");
    const own =
      sum.item !== "compute" || compute === 0n ? 0n : isLast ? leftToCover : divideHalfEven(sum.amount * covered, compute);
    leftToCover -= own;
    const list = listCost(sum, ours, asked);
    const listPrice = sum.seconds === 0 ? null : divideHalfEven(list * BigInt(HOUR_S), BigInt(sum.seconds));
    const { item, perSecond, amount } = sum;
    const whole = { item, perSecond, listPrice, microHours: microHoursOf(sum.seconds), amount, list, own };
    return split(whole).map((part) => usageLine(listed, { ...part, amortised: part.own === 0n ? 0n : amortisedOf(own), day }));
  });
}

/** Seconds at one rate of one item, together; what rounds runs up counts as seconds too. */
type Sum = { item: CostItem; seconds: number; perSecond: bigint; amount: bigint };

function summedUp(pieces: readonly CostPiece[]): Sum[] {
  const sums = new Map<string, Sum>();
  for (const { item, seconds, perSecond, amount } of pieces) {
    const key = `${item} ${perSecond}`;
    const sum = sums.get(key) ?? { item, seconds: 0, perSecond, amount: 0n };
    sums.set(key, { ...sum, seconds: sum.seconds + seconds, amount: sum.amount + amount });
  }
  return [...sums.values()];
}

/** What the provider asks for the same, shared among the rates of an item by what they come to. */
function listCost(sum: Sum, ours: readonly Sum[], listed: readonly Sum[]): bigint {
  const total = (sums: readonly Sum[]) =>
    sums.filter(({ item }) => item === sum.item).reduce((all, { amount }) => all + amount, 0n);
  const own = total(ours);
  return own === 0n ? 0n : divideHalfEven(total(listed) * sum.amount, own);
}

/** One row of usage: hours in millionths; `own`: what a commitment pays of its amount. */
type Part = Readonly<{
  item: CostItem;
  perSecond: bigint;
  /** An hour of it as the provider asks; null where there is none. */
  listPrice: bigint | null;
  microHours: bigint;
  amount: bigint;
  list: bigint;
  own: bigint;
}>;
type Usage = Part & Readonly<{ amortised: bigint; day: Day }>;

function microHoursOf(seconds: number): bigint {
  return BigInt(Math.round((seconds / HOUR_S) * 1e6));
}

/** What a commitment pays in part is two rows: used of it, and paid for besides; together they are the whole. */
function split(whole: Part): readonly Part[] {
  const { amount, own, list, microHours } = whole;
  if (own === 0n || own === amount) return [whole];
  const shareOf = (total: bigint) => divideHalfEven(total * own, amount);
  const used = { ...whole, amount: own, list: shareOf(list), microHours: shareOf(microHours) };
  const besides = { amount: amount - own, list: list - used.list, microHours: microHours - used.microHours, own: 0n };
  return [used, { ...whole, ...besides }];
}

function usageLine(resource: Resource, { amortised, day, ...part }: Usage): WrittenLine {
  const { item, perSecond, listPrice, microHours, amount, list, own } = part;
  const { fields, tags } = resource;
  const { snapshot, prices, from, to } = day;
  const quantity = (Number(microHours) / 1e6).toFixed(6);
  const provider = fields.provider ?? "";
  const commitment = own > 0n ? prices.commitments.find((one) => countsAt(one, from) && covers(one, resource)) : undefined;
  // To as many places as costs: the price of a unit times the quantity is the cost.
  const perHour = (amount: bigint) => formatExact(amount as Amount);
  const isSpot = fields.purchase === "spot" && item === "compute";
  return {
    ...periodOf({ from, to, currency: currencyOf(snapshot) }),
    BilledCost: formatExact((amount - own) as Amount),
    BillingAccountId: fields.account ?? "",
    BillingAccountName: fields.account ?? "",
    ChargeCategory: "Usage",
    ChargeDescription: `${item}, ${fields.size || resource.kind}`,
    ChargeFrequency: "Usage-Based",
    CommitmentDiscountCategory: commitment ? "Usage" : "",
    CommitmentDiscountId: commitment ? `commitment-${commitment.id}` : "",
    CommitmentDiscountStatus: commitment ? "Used" : "",
    CommitmentDiscountType: commitment ? "Reserved units" : "",
    ConsumedQuantity: quantity,
    ConsumedUnit: "Hours",
    ContractedCost: formatExact(amount as Amount),
    ContractedUnitPrice: perHour(perSecond * BigInt(HOUR_S)),
    EffectiveCost: formatExact((amount - own + amortised) as Amount),
    InvoiceIssuerName: provider,
    ListCost: formatExact(list as Amount),
    ListUnitPrice: listPrice === null ? "" : perHour(listPrice),
    PricingCategory: commitment ? "Committed" : isSpot ? "Dynamic" : "Standard",
    PricingQuantity: quantity,
    PricingUnit: "Hours",
    ProviderName: provider,
    PublisherName: provider,
    RegionId: fields.region ?? "",
    RegionName: fields.region ?? "",
    ResourceId: providerIdOf(resource.id, resource.fields.account ?? ""),
    ResourceName: resource.name,
    ResourceType: resource.kind,
    ServiceCategory: SERVICES[item].category,
    ServiceName: SERVICES[item].name,
    SubAccountId: fields.account ?? "",
    SubAccountName: fields.account ?? "",
    Tags: JSON.stringify(tags),
  };
}

/** The fee as a purchase, and as usage the part of it that bought nothing. */
function feeLines({ commitment, fee, usedFee }: Used, frame: Frame): WrittenLine[] {
  const { id, provider, account, region, size, units } = commitment;
  const common: WrittenLine = {
    ...periodOf(frame),
    BillingAccountId: account || provider,
    BillingAccountName: account || provider,
    CommitmentDiscountCategory: "Usage",
    CommitmentDiscountId: `commitment-${id}`,
    CommitmentDiscountType: "Reserved units",
    InvoiceIssuerName: provider,
    PricingCategory: "Committed",
    PricingQuantity: String(units),
    PricingUnit: "Units",
    ProviderName: provider,
    PublisherName: provider,
    RegionId: region,
    RegionName: region,
    ResourceId: `commitment-${id}`,
    ResourceName: `${units} x ${size}`,
    ResourceType: "commitment",
    ServiceCategory: "Compute",
    ServiceName: "Commitments",
    SubAccountId: account,
    SubAccountName: account,
  };
  const nothing = formatExact(0n as Amount);
  const purchase: WrittenLine = {
    ...common,
    BilledCost: formatExact(fee as Amount),
    ChargeCategory: "Purchase",
    ChargeDescription: `fee of ${units} x ${size}`,
    ChargeFrequency: "Recurring",
    ContractedCost: formatExact(fee as Amount),
    EffectiveCost: nothing,
    ListCost: formatExact(fee as Amount),
  };
  const unused = fee - usedFee;
  if (unused <= 0n) return [purchase];
  return [
    purchase,
    {
      ...common,
      BilledCost: nothing,
      ChargeCategory: "Usage",
      ChargeDescription: `unused part of ${units} x ${size}`,
      ChargeFrequency: "Usage-Based",
      CommitmentDiscountStatus: "Unused",
      ContractedCost: nothing,
      EffectiveCost: formatExact(unused as Amount),
      ListCost: nothing,
    },
  ];
}
