import { divideHalfEven } from "../decimal";

/** Values are taken to six places. */
export const MICROS = 1_000_000;
const PLACES = 6;
const NUMBER = /^[+-]?(\d+)(?:\.(\d*))?(?:[eE]([+-]?\d{1,4}))?$|^[+-]?()\.(\d+)(?:[eE]([+-]?\d{1,4}))?$/;

/** A decimal as written, in millionths, rounded half-even; null where it is no finite number. */
export function tryMicrosOfText(text: string): bigint | null {
  const match = NUMBER.exec(text);
  if (!match || !Number.isFinite(Number(text))) return null;
  const whole = match[1] ?? "";
  const fraction = match[2] ?? match[5] ?? "";
  const shift = Number(match[3] ?? match[6] ?? 0) - fraction.length + PLACES;
  const digits = BigInt((text.startsWith("-") ? "-" : "") + (whole + fraction || "0"));
  // Nothing of it is left, however it is rounded.
  if (shift < -(whole.length + fraction.length + 1)) return 0n;
  return shift >= 0 ? digits * 10n ** BigInt(shift) : divideHalfEven(digits, 10n ** BigInt(-shift));
}

/** The same of a finite number, by the shortest decimal that reads as it. Throws a RangeError where it is none. */
export function microsOf(value: number): number {
  if (Number.isInteger(value) && Math.abs(value) <= Number.MAX_SAFE_INTEGER / MICROS) return value * MICROS;
  const scaled = value * MICROS;
  const rounded = Math.round(scaled);
  // Far from a half, and small enough that a product is right to the last place.
  if (Math.abs(scaled) < 2 ** 40 && Math.abs(Math.abs(scaled - rounded) - 0.5) > 0.01) return rounded;
  const exact = tryMicrosOfText(String(value));
  if (exact === null) throw new RangeError(`${value} is no finite number`);
  return Number(exact);
}
