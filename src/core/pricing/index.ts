export {
  cardReader,
  computePerSecond,
  costPerSecond,
  type Price,
  type PriceBook,
  priceBook,
  priceSchema,
  type RateCard,
  rateCard,
} from "./book";
export { type Decimal, divideHalfEven, tryParseDecimal } from "./decimal";
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
