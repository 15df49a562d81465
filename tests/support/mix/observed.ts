import { posterior, type Rate } from "@/core/mix";

/** What was seen of one pool, or of a size: `at` in hours; machines that went in the same instant of so many that were there. */
export type Seen = Readonly<{
  gone: readonly Readonly<{ at: number; count: number; held: number }>[];
  /** Machine-hours in all, and hours in which at least two machines were there. */
  machineHours: number;
  sharedHours: number;
}>;

/** Rates as a mix takes them, per hour. */
/** A Gamma per machine-hour, as a pool's hazard takes it. */
type Gamma = Pick<Rate, "shape" | "rate">;
/** `reclaim` is null where no two ever went at once; its rate is per hour, as far as it is known. */
export type SeenRates = Readonly<{ hazard: Gamma; reclaim: Readonly<{ rate: Gamma; share: number }> | null }>;

/**
 * What evictions say of a pool: several at one instant are a reclaim event, all others go alone (docs/model.md, Capacity mix).
 * An event of which only one machine was taken looks like one alone: the rate of events counts those as well, by the share.
 */
export function ratesSeen({ gone, machineHours, sharedHours }: Seen, prior: Gamma): SeenRates {
  const events = gone.filter(({ count }) => count >= 2);
  const taken = events.reduce((sum, { count }) => sum + count, 0);
  const there = events.reduce((sum, { held }) => sum + held, 0);
  const evictions = gone.reduce((sum, { count }) => sum + count, 0);
  const hazardOf = (n: number): Gamma => {
    const { shape, rate } = posterior({ prior, evictions: n, machineHours });
    return { shape, rate };
  };
  if (events.length === 0 || sharedHours <= 0) return { hazard: hazardOf(evictions), reclaim: null };
  const held = there / events.length;
  const share = shareBehind(taken / events.length, held);
  const seenShare = chanceOfTwo(share, held);
  // Those that an event took alone are no machine's own.
  const aloneInEvents = (events.length / seenShare) * held * share * (1 - share) ** (held - 1);
  const alone = Math.max(0, evictions - taken - aloneInEvents);
  return { hazard: hazardOf(alone), reclaim: { rate: { shape: events.length, rate: sharedHours * seenShare }, share } };
}

/** The chance that an event which takes a share of so many machines takes at least two. */
function chanceOfTwo(share: number, held: number): number {
  return 1 - (1 - share) ** held - held * share * (1 - share) ** (held - 1);
}

/** The share of which so many are taken in the mean, given that at least two are. */
function shareBehind(taken: number, held: number): number {
  const meanOf = (share: number) =>
    (held * share - held * share * (1 - share) ** (held - 1)) / Math.max(Number.MIN_VALUE, chanceOfTwo(share, held));
  let [low, high] = [1e-3, 1];
  for (let i = 0; i < 50; i++) {
    const middle = (low + high) / 2;
    if (meanOf(middle) < taken) low = middle;
    else high = middle;
  }
  return high;
}
