import { betaOf, gammaOf, ladder, lnGammaAt, meanBy, weightsOf } from "./grid";
import type { Beta, Gamma } from "./known";

/** What was seen of a size, or a pool: `at` in hours; machines that went in the same instant of so many that were there. */
export type Observed = Readonly<{
  gone: readonly Readonly<{ at: number; count: number; held: number }>[];
  machineHours: number;
  /** Hours in which so many of a pool were there. */
  hoursHeld: ReadonlyMap<number, number>;
}>;

/** What is known of waves: how often one comes per hour, and the share of a pool's machines that it takes. */
export type Waves = Readonly<{ rate: Gamma; share: Beta }>;

/** A wave in some two hundred hours, that takes two of five: what is thought of a size of which nothing was seen. */
export const WAVES_PRIOR: Waves = { rate: { shape: 0.5, rate: 100 }, share: { taken: 2, spared: 3 } };

const RATES = ladder(1 / 20_000, 0.3, 28);
const HAZARDS = ladder(1 / 100_000, 3, 40);
const SHARES = Array.from({ length: 20 }, (_, i) => (i + 0.5) / 20);

/**
 * What evictions say of waves, and how many of those that went alone went in one that took no other. A wave takes each machine by
 * its share, so it is seen as one where it takes two or more; how often each number goes is weighed, over a grid, by how often
 * waves come, what they take, and how often machines go by themselves.
 */
export function wavesLearned(
  { gone, machineHours, hoursHeld }: Observed,
  hazard: Gamma,
  prior: Waves = WAVES_PRIOR,
): Waves & Readonly<{ alone: number }> {
  const events = gone.filter(({ count }) => count >= 2);
  const single = gone.length - events.length;
  const points: { share: number; rate: number; alone: number; ln: number }[] = [];
  for (const share of SHARES) {
    // Hours over all, weighed by the chance that a wave takes one, or more.
    let [one, more] = [0, 0];
    for (const [held, hours] of hoursHeld) {
      one += hours * chanceOf(1, held, share);
      more += hours * (1 - chanceOf(0, held, share) - chanceOf(1, held, share));
    }
    const taken = events.reduce((sum, { count, held }) => sum + Math.log(chanceOf(count, held, share)), 0);
    const thought = (prior.share.taken - 1) * Math.log(share) + (prior.share.spared - 1) * Math.log(1 - share);
    for (const rate of RATES) {
      const fixed = thought + lnGammaAt(prior.rate, rate) + taken + events.length * Math.log(rate) - rate * (one + more);
      for (const own of HAZARDS) {
        const expected = own * machineHours + rate * one;
        const came = single === 0 ? 0 : single * Math.log(Math.max(expected, Number.MIN_VALUE));
        const ln = fixed + lnGammaAt(hazard, own) + came - own * machineHours;
        points.push({ share, rate, alone: expected > 0 ? (single * rate * one) / expected : 0, ln });
      }
    }
  }
  const weights = weightsOf(points.map(({ ln }) => ln));
  const shares = points.map(({ share }) => share);
  const share = meanBy(shares, weights);
  return {
    // What waves take in all is known better than how often they come and what each takes: it is what is kept.
    rate: gammaOf(
      points.map((point) => (point.rate * point.share) / share),
      weights,
    ),
    share: betaOf(shares, weights),
    alone: meanBy(
      points.map(({ alone }) => alone),
      weights,
    ),
  };
}

/** The chance that of so many, each taken with a chance, exactly so many are. */
function chanceOf(count: number, of: number, share: number): number {
  if (count > of) return 0;
  let ways = 1;
  for (let i = 0; i < count; i++) ways *= (of - i) / (i + 1);
  return ways * share ** count * (1 - share) ** (of - count);
}
