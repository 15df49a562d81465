import type { Instant } from "@/core/time";

const DAY_S = 86_400;

/**
 * How far our clock is from that of the snapshot outside, in seconds: nothing but in a demo, whose clock is the stand-in's.
 * What comes from outside with times of its own is moved by it.
 */
export function clockSkew(now: Instant): number {
  const skew = now - Math.round(Date.now() / 1000);
  return Math.abs(skew) > DAY_S ? skew : 0;
}

/** An instant told from outside, by our clock; one that is by our clock already stays. */
export function byOurClock(at: number, now: Instant, skew: number): number {
  return skew !== 0 && Math.abs(at + skew - now) < Math.abs(at - now) ? at + skew : at;
}
