import { type Amount, centsOf, formatCents, type Micros, microsOf } from "@/core/pricing";
import type { PricedLine } from "./priced";

/** How many run at spot price, what they cost an hour, what they would at full price, and what that is less; `less` is null where it is none. */
export type AtSpot = Readonly<{ count: number; perHour: string; fullPerHour: string; less: string | null }>;

/** What runs at spot price beside the same at full price. Lines without a full price are left out. */
export function spotOf(lines: readonly PricedLine[]): AtSpot | null {
  let [count, spot, full] = [0, 0n, 0n];
  for (const { perHour, fullPerHour } of lines) {
    if (fullPerHour === null) continue;
    count++;
    spot += perHour;
    full += fullPerHour;
  }
  if (count === 0) return null;
  const [now, whole] = [microsOf(spot as Amount), microsOf(full as Amount)];
  // The difference of what is shown, so that it adds up.
  const less = centsOf(full as Amount) - centsOf(spot as Amount);
  return {
    count,
    perHour: formatCents(now),
    fullPerHour: formatCents(whole),
    less: less > 0n ? formatCents((less * 10_000n) as Micros) : null,
  };
}
