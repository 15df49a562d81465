import type { Brand } from "../brand";
import { divideHalfEven, tryParseDecimal, tryRescale } from "../decimal";

/** Billionths of the currency per hour (and per core, where the rate says so). */
export type HourRate = Brand<bigint, "hour rate">;
/** Billionths of the currency per GiB and month of 730 hours. */
export type MonthRate = Brand<bigint, "month rate">;
/** Millionths of the currency; what a sum is rounded to, once, at the end. */
export type Micros = Brand<bigint, "micros">;
/**
 * An exact amount before rounding: billionths of the currency / (3600 x 730). Both an hourly rate
 * times seconds and a monthly rate times seconds are whole numbers of it, so sums never round.
 */
export type Amount = Brand<bigint, "amount">;
/** An exact amount for every second that passes. */
export type AmountPerSecond = Brand<bigint, "amount per second">;

/** Money after commitments: less what they pay, with their fees; or before them. */
export type MoneyView = "after" | "before";

const RATE_SCALE = 9;
const HOURS_PER_MONTH = 730n;
const BILLIONTHS = 1e9;
const AMOUNT_PER_MICRO = 1000n * 3600n * HOURS_PER_MONTH;
/** So much of an exact amount is one unit of the currency. */
export const AMOUNT_PER_UNIT = 1_000_000n * AMOUNT_PER_MICRO;

/** Reads a rate with at most nine decimals; null when it is not one. */
export function tryParseHourRate(text: string): HourRate | null {
  return nano(text) as HourRate | null;
}

/** Reads a rate with at most nine decimals; null when it is not one. */
export function tryParseMonthRate(text: string): MonthRate | null {
  return nano(text) as MonthRate | null;
}

function nano(text: string): bigint | null {
  const decimal = tryParseDecimal(text);
  return decimal && tryRescale(decimal, RATE_SCALE);
}

export const NO_AMOUNT = 0n as Amount;
export const NO_RATE = 0n as AmountPerSecond;

/** What one second at an hourly rate comes to, `times` over. */
export function perSecondOfHourly(rate: HourRate, times = 1): AmountPerSecond {
  return (rate * HOURS_PER_MONTH * BigInt(times)) as AmountPerSecond;
}

/** What one second of `gib` GiB at a monthly rate comes to. */
export function perSecondOfMonthly(rate: MonthRate, gib: number): AmountPerSecond {
  return (rate * BigInt(gib)) as AmountPerSecond;
}

/** A rate as a plain number of the currency an hour, for pictures and simulations, which have no use for all its digits. */
export function roughlyPerHour(rate: bigint): number {
  return Number(rate) / (BILLIONTHS * Number(HOURS_PER_MONTH));
}

export function addRates(...rates: readonly AmountPerSecond[]): AmountPerSecond {
  let sum = 0n;
  for (const rate of rates) sum += rate;
  return sum as AmountPerSecond;
}

/** The amount of whole seconds at a rate. */
export function amountOf(seconds: number, rate: AmountPerSecond): Amount {
  return (BigInt(seconds) * rate) as Amount;
}

export function addAmounts(a: Amount, b: Amount): Amount {
  return (a + b) as Amount;
}

export function subtractAmounts(a: Amount, b: Amount): Amount {
  return (a - b) as Amount;
}

/** The amount times a fraction of whole numbers, rounded half-even to the amount's own tiny unit. */
export function scaleAmount(amount: Amount, numerator: number, denominator: number): Amount {
  return divideHalfEven(amount * BigInt(numerator), BigInt(denominator)) as Amount;
}

/** Rounds an exact amount half-even to micro-units. */
export function microsOf(amount: Amount): Micros {
  return divideHalfEven(amount, AMOUNT_PER_MICRO) as Micros;
}

/** Six decimals, as files and commands give it: `12.345600`. */
export function formatMicros(micros: Micros): string {
  const isNegative = micros < 0n;
  const digits = String(isNegative ? -micros : micros).padStart(7, "0");
  return `${isNegative ? "-" : ""}${digits.slice(0, -6)}.${digits.slice(-6)}`;
}

/** Twelve decimals, rounded half-even: a million lines of them add up to the cent. */
export function formatExact(amount: Amount): string {
  const picos = divideHalfEven(amount * 1_000_000n, AMOUNT_PER_MICRO);
  const digits = String(picos < 0n ? -picos : picos).padStart(13, "0");
  return `${picos < 0n ? "-" : ""}${digits.slice(0, -12)}.${digits.slice(-12)}`;
}

/** Two decimals for people, rounded half-even, thousands apart by a no-break space: `12 345.60`. */
export function formatCents(micros: Micros): string {
  const cents = divideHalfEven(micros, 10_000n);
  const isNegative = cents < 0n;
  const digits = String(isNegative ? -cents : cents).padStart(3, "0");
  const whole = digits.slice(0, -2).replace(/\B(?=(\d{3})+$)/g, "\u00a0");
  return `${isNegative ? "\u2212" : ""}${whole}.${digits.slice(-2)}`;
}
