import { type Instant, MINUTE_S } from "../time";

/** Rounds come this often. */
export const ROUND_EVERY_S = MINUTE_S;

/** A decision is acted on within two rounds, or not at all. A demo's clock may go an hour a second; a round still takes its time. */
export function isTooOld(decidedAt: Instant, { now, rate }: Readonly<{ now: Instant; rate: number }>): boolean {
  return Math.abs(now - decidedAt) > 2 * ROUND_EVERY_S * Math.max(1, rate);
}
