import type { Resource } from "@/core/plan";
import { type Amount, type AmountPerSecond, addAmounts, amountOf, costPerSecond, NO_AMOUNT } from "@/core/pricing";
import { cardAt } from "@/core/spend";
import { HOUR_S, type Instant } from "@/core/time";
import { fullInventory, isOnBurn, type Pool, type Prices, type StoredOverride, type StoredResource } from "@/store";
import type { SnapshotAt } from "../../inventory";
import { cardsOf } from "../cards";
import { endOfMonth, type MonthSoFar, type MonthToCome, monthSoFar, restOfMonth } from "./month";
import { type Rates, ratesOf } from "./rates";

/** Exact money of one line. What cannot be known ahead of now is null. */
export type Money = Readonly<{
  perHour: Amount;
  soFar: Amount | null;
  month: Amount | null;
  /** Month to date and what the plans in force will cost until its end. */
  byMonthEnd: Amount | null;
  /** What the month comes to if all goes on as at this instant. */
  ifAsNow: Amount | null;
}>;

export type PricedLine = Readonly<
  Money & {
    kind: "line";
    resource: StoredResource;
    hold: StoredOverride | null;
    isNotDue: boolean;
    isCovered: boolean;
    unpriced: readonly string[];
    fullPerHour: Amount | null;
  }
>;

/** Something that does not run: it is off, loose or gone, and has cost something this month or still does. */
export type PricedRest = Readonly<Money & { kind: "rest"; resource: Resource; fleet: string | null }>;

/** A commitment's fee, and how many of its units are in use. */
export type PricedFee = Readonly<
  Money & { kind: "fee"; key: string; size: string; region: string; account: string; used: number; units: number }
>;

export type Part = PricedLine | PricedRest | PricedFee;

/** `lines` stand in the order of the rates they were made of. Lines, rest and fees together are all that the month costs. */
export type Priced = Readonly<{
  rates: Rates;
  lines: readonly PricedLine[];
  rest: readonly PricedRest[];
  fees: readonly PricedFee[];
  monthEnd: Instant;
}>;

/** Prices everything there is as of an instant, after or before commitments as the prices are. */
export async function priceInventory(pool: Pool, snapshot: SnapshotAt, prices: Prices): Promise<Priced> {
  const { at, tense } = snapshot;
  const { view } = prices;
  const [rates, month, toCome, full] = await Promise.all([
    ratesOf(pool, snapshot, prices),
    tense === "ahead" ? null : monthSoFar(pool, { snapshot, view, at, isNow: tense === "now" }),
    tense === "ahead" ? null : restOfMonth(pool, { snapshot, prices }),
    fullInventory(pool),
  ]);
  const monthEnd = endOfMonth(at);
  const read = monthReader(month, toCome, { at, monthEnd });
  // Ten thousand at every look: only what time changes is worked out.
  const lines = rates.lines.map((rated): PricedLine => {
    const { resource, hold, isNotDue, isCovered, unpriced, perHour, fullPerHour } = rated;
    const { month: monthNow, byMonthEnd, ifAsNow } = read(resource.id, rated.perSecond);
    const soFar = month === null ? null : rated.soFarAt(at);
    return {
      kind: "line",
      resource,
      hold,
      isNotDue,
      isCovered,
      unpriced,
      fullPerHour,
      perHour,
      soFar,
      month: monthNow,
      byMonthEnd,
      ifAsNow,
    };
  });
  const fees = rates.fees.map(({ perSecond, ...fee }): PricedFee => {
    return { kind: "fee", ...fee, soFar: null, ...read(fee.key, perSecond) };
  });
  const rest = restOf({ snapshot, prices, full, rates, month, toCome }).map(({ resource, fleet, perSecond }): PricedRest => {
    return { kind: "rest", resource, fleet, perHour: amountOf(HOUR_S, perSecond), soFar: null, ...read(resource.id, perSecond) };
  });
  return { rates, lines, rest, fees, monthEnd };
}

type MonthMoney = Pick<Money, "month" | "byMonthEnd" | "ifAsNow">;
const UNKNOWN: MonthMoney = { month: null, byMonthEnd: null, ifAsNow: null };

/** Going on from what is known of the month at the rates of now, and to its end by the plans. */
function monthReader(
  month: MonthSoFar | null,
  toCome: MonthToCome | null,
  { at, monthEnd }: { at: Instant; monthEnd: Instant },
): (id: string, rate: AmountPerSecond) => MonthMoney {
  if (!month || !toCome) return () => UNKNOWN;
  return (id, rate) => {
    const known = month.of(id);
    const monthNow = addAmounts(known, amountOf(at - month.at, rate));
    return {
      month: monthNow,
      byMonthEnd: addAmounts(addAmounts(known, amountOf(toCome.at - month.at, rate)), toCome.of(id)),
      ifAsNow: addAmounts(monthNow, amountOf(monthEnd - at, rate)),
    };
  };
}

type Rested = Readonly<{ resource: Resource; fleet: string | null; perSecond: AmountPerSecond }>;
type RestInput = Readonly<{
  snapshot: SnapshotAt;
  prices: Prices;
  full: readonly Resource[];
  rates: Rates;
  month: MonthSoFar | null;
  toCome: MonthToCome | null;
}>;

/** What stands and does not run, and what is gone and ran this month. */
function restOf({ snapshot, prices, full, rates, month, toCome }: RestInput): Rested[] {
  const { at, resources } = snapshot;
  const cardsOver = cardsOf(prices, snapshot.capabilities);
  const seen = new Set(rates.lines.map(({ resource }) => resource.id));
  const rest: Rested[] = [];
  for (const resource of resources) {
    if (isOnBurn(resource.state)) continue;
    seen.add(resource.id);
    const card = cardAt(cardsOver(resource, at, at + 1) ?? [], at);
    const perSecond = card ? costPerSecond(card, resource) : (0n as AmountPerSecond);
    const isNothing =
      perSecond === 0n && (month?.of(resource.id) ?? NO_AMOUNT) === 0n && (toCome?.of(resource.id) ?? NO_AMOUNT) === 0n;
    if (!isNothing) rest.push({ resource, fleet: resource.fleet, perSecond });
  }
  if (!month) return rest;
  // Few are left: what is gone, and ran this month.
  const left = new Set<string>();
  for (const id of month.ids()) if (!seen.has(id) && month.of(id) !== 0n) left.add(id);
  if (left.size === 0) return rest;
  for (const resource of full) {
    if (left.has(resource.id)) rest.push({ resource, fleet: null, perSecond: 0n as AmountPerSecond });
  }
  return rest;
}
