import { divideHalfEven, tryParseDecimal, tryRescale } from "../decimal";
import { DAY_S, dayNumber, type Instant } from "../time";
import type { Price } from "./book";

/** A share off what a provider asks, on the UTC days from one to another, both included; an empty field stands for any. */
export type Discount = Readonly<{
  id: number;
  provider: string;
  item: string;
  size: string;
  purchase: string;
  /** A decimal above 0 up to 100. */
  percent: string;
  fromDay: string;
  toDay: string;
}>;

const RATE_SCALE = 9;
const HUNDRED_PERCENT = 100_000_000n;

/** Percent as a decimal with at most six places; null where it is none above 0 up to 100. */
export function tryParsePercent(text: string): bigint | null {
  const decimal = tryParseDecimal(text);
  const units = decimal && tryRescale(decimal, 6);
  return units !== null && units > 0n && units <= HUNDRED_PERCENT ? units : null;
}

/** The instants at which a discount begins and ends. */
export function discountEdges({ fromDay, toDay }: Discount): readonly [Instant, Instant] {
  return [dayNumber(fromDay) * DAY_S, (dayNumber(toDay) + 1) * DAY_S];
}

/** The largest share that is off a price at an instant; discounts are not added up. Null without any. */
export function discountOn(
  discounts: readonly Discount[],
  price: Pick<Price, "item" | "size" | "purchase"> & { provider: string },
  t: Instant,
): bigint | null {
  let best: bigint | null = null;
  for (const discount of discounts) {
    const [from, to] = discountEdges(discount);
    const fits = (own: string, asked: string) => own === "" || own === asked;
    if (discount.provider !== price.provider || t < from || t >= to) continue;
    if (!fits(discount.item, price.item) || !fits(discount.size, price.size) || !fits(discount.purchase, price.purchase))
      continue;
    const units = tryParsePercent(discount.percent);
    if (units !== null && (best === null || units > best)) best = units;
  }
  return best;
}

/** A rate less a share of it, to nine decimals, half to even. */
export function discounted(rate: string, percent: bigint): string {
  const decimal = tryParseDecimal(rate);
  const units = decimal && tryRescale(decimal, RATE_SCALE);
  if (units === null) throw new Error(`a rate is checked when it is read: ${rate}`);
  const left = divideHalfEven(units * (HUNDRED_PERCENT - percent), HUNDRED_PERCENT);
  const digits = String(left).padStart(RATE_SCALE + 1, "0");
  return `${digits.slice(0, -RATE_SCALE)}.${digits.slice(-RATE_SCALE)}`;
}
