import { type Amount, type AmountPerSecond, addAmounts, amountOf } from "@/core/pricing";
import type { Instant } from "@/core/time";
import type { Pool, Prices, StoredHold, StoredResource } from "@/store";
import type { WorldAt } from "../../inventory";
import { endOfMonth, type MonthSoFar, monthSoFar } from "./month";
import { type Rates, ratesOf } from "./rates";

/** Exact money of one line. What cannot be known ahead of now is null. */
export type Money = Readonly<{ perHour: Amount; soFar: Amount | null; month: Amount | null; byMonthEnd: Amount | null }>;

export type PricedLine = Readonly<
  Money & {
    kind: "line";
    resource: StoredResource;
    hold: StoredHold | null;
    isNotDue: boolean;
    isCovered: boolean;
    unpriced: readonly string[];
  }
>;

/** A commitment's fee, and how many of its units are in use. */
export type PricedFee = Readonly<
  Money & { kind: "fee"; key: string; size: string; region: string; account: string; used: number; units: number }
>;

export type Part = PricedLine | PricedFee;

/** `lines` stand in the order of the rates they were made of. */
export type Priced = Readonly<{
  rates: Rates;
  lines: readonly PricedLine[];
  fees: readonly PricedFee[];
  monthEnd: Instant;
}>;

/** Prices everything that runs as of an instant, net of commitments. */
export async function priceStanding(pool: Pool, world: WorldAt, prices: Prices): Promise<Priced> {
  const { at, tense } = world;
  const [rates, month] = await Promise.all([
    ratesOf(pool, world, prices),
    tense === "ahead" ? null : monthSoFar(pool, { world, prices, at, isNow: tense === "now" }),
  ]);
  const monthEnd = endOfMonth(at);
  const ahead = monthReader(month, { at, monthEnd });
  // Ten thousand at every look: only what time changes is worked out.
  const lines = rates.lines.map((rated): PricedLine => {
    const { resource, hold, isNotDue, isCovered, unpriced, perHour } = rated;
    const monthNow = ahead.monthOf(resource.id, rated.perSecond);
    const byMonthEnd = ahead.byEnd(monthNow, rated.perSecond);
    const soFar = month === null ? null : rated.soFarAt(at);
    return { kind: "line", resource, hold, isNotDue, isCovered, unpriced, perHour, soFar, month: monthNow, byMonthEnd };
  });
  const fees = rates.fees.map(({ perSecond, ...fee }): PricedFee => {
    const monthNow = ahead.monthOf(fee.key, perSecond);
    return { kind: "fee", ...fee, soFar: null, month: monthNow, byMonthEnd: ahead.byEnd(monthNow, perSecond) };
  });
  return { rates, lines, fees, monthEnd };
}

/** Going on from what is known of the month at the rates of now. */
function monthReader(month: MonthSoFar | null, { at, monthEnd }: { at: Instant; monthEnd: Instant }) {
  const since = at - (month?.at ?? at);
  return {
    monthOf: (id: string, rate: AmountPerSecond) => month && addAmounts(month.of(id), amountOf(since, rate)),
    byEnd: (monthNow: Amount | null, rate: AmountPerSecond) =>
      monthNow === null ? null : addAmounts(monthNow, amountOf(monthEnd - at, rate)),
  };
}
