export {
  cardReader,
  computePerSecond,
  costPerSecond,
  licencePerSecond,
  PRICE_ITEMS,
  type Price,
  type PriceBook,
  priceBook,
  priceSchema,
  type RateCard,
  rateCard,
} from "./book";
export {
  type Commitment,
  countsAt,
  coverEach,
  coveredUnitSeconds,
  covers,
  feePerSecond,
  type UnitStretch,
} from "./commitments";
export { type Decimal, divideHalfEven, tryParseDecimal } from "./decimal";
export { type Discount, discountOn, tryParsePercent } from "./discounts";
export { type CardsOver, cardsOver, type DatedCard, type PriceHistory, type PricePoint, priceHistory } from "./history";
export {
  type Amount,
  type AmountPerSecond,
  addAmounts,
  addRates,
  amountOf,
  formatCents,
  formatMicros,
  type HourRate,
  type Micros,
  microsOf,
  NO_AMOUNT,
  NO_RATE,
  scaleAmount,
  subtractAmounts,
  tryParseHourRate,
} from "./money";
export { type Billing, billedSeconds, type RunCost, runCost } from "./run";
export { centsOf, roundedCents, roundedShares, shareReader } from "./shares";
