/** An exact decimal number: units / 10^scale. */
export type Decimal = Readonly<{ units: bigint; scale: number }>;

const DECIMAL = /^(\d{1,30})(?:\.(\d{1,30}))?$/;

/** Reads a decimal from 0 without exponent or sign; null when it is not one. */
export function tryParseDecimal(text: string): Decimal | null {
  const match = DECIMAL.exec(text);
  if (!match) return null;
  const fraction = match[2] ?? "";
  return { units: BigInt((match[1] as string) + fraction), scale: fraction.length };
}

/** numerator / denominator, rounded half-even. The denominator is positive. */
export function divideHalfEven(numerator: bigint, denominator: bigint): bigint {
  const isNegative = numerator < 0n;
  const n = isNegative ? -numerator : numerator;
  const quotient = n / denominator;
  const twice = (n % denominator) * 2n;
  const roundsUp = twice > denominator || (twice === denominator && quotient % 2n === 1n);
  const rounded = roundsUp ? quotient + 1n : quotient;
  return isNegative ? -rounded : rounded;
}

/** The decimal at a smaller or larger scale; null when digits would be lost. */
export function tryRescale({ units, scale }: Decimal, wanted: number): bigint | null {
  if (wanted >= scale) return units * 10n ** BigInt(wanted - scale);
  const divisor = 10n ** BigInt(scale - wanted);
  return units % divisor === 0n ? units / divisor : null;
}
