export { type Decimal, divideHalfEven, tryParseDecimal } from "../decimal";
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
export { type Commitment, type Coverable, commitmentEdges, countsAt, coveredByAny, covers, feePerSecond } from "./commitments";
export {
  type Cover,
  type CoverOver,
  type CoverRun,
  type CoverUse,
  coverAt,
  coveredPerSecond,
  coverOver,
  WHOLE_SHARE,
} from "./coverage";
export { type CardsOver, cardsOver, type DatedCard } from "./dated-cards";
export { type Discount, discountOn, tryParsePercent } from "./discounts";
export { type PriceHistory, type PriceLookup, priceHistory } from "./history";
export {
  AMOUNT_PER_UNIT,
  type Amount,
  type AmountPerSecond,
  addAmounts,
  addRates,
  amountOf,
  formatCents,
  formatExact,
  formatMicros,
  type HourRate,
  type Micros,
  type MoneyView,
  microsOf,
  NO_AMOUNT,
  NO_RATE,
  perSecondOfHourly,
  roughlyPerHour,
  scaleAmount,
  subtractAmounts,
  tryParseHourRate,
} from "./money";
export { type Billing, billedSeconds, type RunCost, runCost } from "./run";
export { centsOf, roundedCents, roundedShares, shareReader } from "./shares";
export { lastOf, type Priced, type PricePoint, type PriceTrack, pointOf, trackKey, withPoints } from "./track";
