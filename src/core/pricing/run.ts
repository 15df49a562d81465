import { type Decimal, divideHalfEven } from "../decimal";
import type { Micros } from "./money";

/** How a provider bills a run: up to a whole granule, and at least a minimum. Whole seconds. */
export type Billing = Readonly<{ granularityS: number; minimumS: number }>;

/** Billed seconds of a run of `seconds` > 0: `max(minimum, ceil(s / granularity) * granularity)`. Throws a RangeError on wrong input. */
export function billedSeconds(seconds: number, { granularityS, minimumS }: Billing): number {
  if (!Number.isInteger(seconds) || seconds <= 0) throw new RangeError(`run of ${seconds} s: expected whole seconds above 0`);
  if (!Number.isInteger(granularityS) || granularityS <= 0)
    throw new RangeError(`granularity of ${granularityS} s: expected whole seconds above 0`);
  if (!Number.isInteger(minimumS) || minimumS < 0)
    throw new RangeError(`minimum of ${minimumS} s: expected whole seconds from 0`);
  return Math.max(minimumS, Math.ceil(seconds / granularityS) * granularityS);
}

export type RunCost = Readonly<{ billedSeconds: number; cost: Micros }>;

/** Cost of one run at an exact rate per hour: billed seconds / 3600 x rate x level, rounded once, half-even. */
export function runCost(seconds: number, rate: Decimal, { billing, level }: { billing: Billing; level: number }): RunCost {
  const billed = billedSeconds(seconds, billing);
  const numerator = BigInt(billed) * rate.units * BigInt(level) * 1_000_000n;
  return { billedSeconds: billed, cost: divideHalfEven(numerator, 3600n * 10n ** BigInt(rate.scale)) as Micros };
}
