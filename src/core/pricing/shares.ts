import { divideHalfEven } from "../decimal";
import { type Amount, type Micros, microsOf } from "./money";

const CENT = 10_000n;
/** Amounts (billionths / (3600 x 730)) in a hundredth of the currency. */
const AMOUNT_PER_CENT = 1e7 * 3600 * 730;

/**
 * Rounds amounts to whole cents (hundredths, as micro-units) so that they add up to their rounded
 * total: each is rounded down, then the largest remainders get a cent until the sum is right
 * (docs/model.md, Money: sums). `total` in cents is given where the parts belong to a shown total
 * already. Ties go to the earlier one.
 */
export function roundedShares(amounts: readonly Amount[], total = roundedCents(amounts)): readonly Micros[] {
  const shareOf = shareReader(amounts, total);
  return amounts.map((_, i) => shareOf(i));
}

/** The same, each share made when it is asked for: of ten thousand rows a page shows a hundred. */
export function shareReader(amounts: readonly Amount[], total = roundedCents(amounts)): (i: number) => Micros {
  const cents = new Float64Array(amounts.length);
  const rests = new Float64Array(amounts.length);
  let given = 0;
  // A double is exact enough to tell which remainder is larger; that the sum is right is seen to with whole numbers.
  for (let i = 0; i < amounts.length; i++) {
    const value = Number(amounts[i]) / AMOUNT_PER_CENT;
    const down = Math.floor(value);
    cents[i] = down;
    rests[i] = value - down;
    given += down;
  }
  give(cents, rests, Number(total - BigInt(given)));
  return (i) => (BigInt(cents[i] as number) * CENT) as Micros;
}

/** Adds `missing` cents, one each to the largest remainders; takes them from the smallest where there are too many. In place. */
function give(cents: Float64Array, rests: Float64Array, missing: number): void {
  const count = cents.length;
  if (missing === 0 || count === 0) return;
  const sign = Math.sign(missing);
  // Beyond one cent each, or below none, only where a total is given that is not the parts' own.
  const each = Math.floor(Math.abs(missing) / count);
  if (each > 0) for (let i = 0; i < count; i++) cents[i] = (cents[i] as number) + sign * each;
  let left = Math.abs(missing) - each * count;
  if (left === 0) return;
  const sorted = Float64Array.from(rests).sort();
  const edge = sorted[sign > 0 ? count - left : left - 1] as number;
  for (let i = 0; i < count && left > 0; i++) {
    const isBeyond = sign > 0 ? (rests[i] as number) > edge : (rests[i] as number) < edge;
    if (!isBeyond) continue;
    cents[i] = (cents[i] as number) + sign;
    left--;
  }
  for (let i = 0; i < count && left > 0; i++) {
    if (rests[i] !== edge) continue;
    cents[i] = (cents[i] as number) + sign;
    left--;
  }
}

/** The sum of the amounts in whole cents, rounded once, half-even. */
export function roundedCents(amounts: readonly Amount[]): bigint {
  let sum = 0n;
  for (const amount of amounts) sum += amount;
  return centsOf(sum as Amount);
}

/** An amount in whole cents, rounded half-even. */
export function centsOf(amount: Amount): bigint {
  return divideHalfEven(microsOf(amount), CENT);
}
