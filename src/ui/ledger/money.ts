import { type Amount, centsOf, formatCents, type Micros, microsOf } from "@/core/pricing";

export function money(amount: Amount): string {
  return formatCents(microsOf(amount));
}

/** The difference of two amounts as they are shown, so that what is shown adds up in cents. */
export function shownDifference(from: Amount, less: Amount): string {
  return formatCents(((centsOf(from) - centsOf(less)) * 10_000n) as Micros);
}

export function share(part: Amount, whole: Amount): string {
  if (whole === 0n) return "0 %";
  return `${(Number((part * 1000n) / whole) / 10).toFixed(1)} %`;
}
