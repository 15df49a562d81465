import { gammaOf, ladder, lnGammaAt, weightsOf } from "./grid";
import { type Gamma, meanRate } from "./known";

/** An answer to an order for a pool, `at` in hours. */
export type PoolAnswer = Readonly<{ at: number; isRefused: boolean }>;

/**
 * What one pool went through, instants in hours: how many of its machines ran from when on, when one was evicted alone, and the
 * answers to orders, up to now.
 */
export type PoolPast = Readonly<{
  held: readonly Readonly<{ at: number; level: number }>[];
  evictions: readonly number[];
  answers: readonly PoolAnswer[];
  now: number;
}>;

/**
 * What is known of a pool's spells: how often one in which machines are to be had ends, how often a dry one does, both per hour, and
 * what the second multiplies. `dryShare`: of the machine-hours that were seen, those that lay in dry ones.
 */
export type Spells = Readonly<{ available: Gamma; dry: Gamma; factor: Gamma; dryShare: number }>;

/** What is thought of a pool of which nothing was seen: dry for an hour or two every day or two, its machines then twice as soon. */
export const SPELLS_PRIOR: Spells = {
  available: { shape: 1, rate: 30 },
  dry: { shape: 2, rate: 2 },
  factor: { shape: 3, rate: 1.5 },
  dryShare: 1 / 31,
};

/** The values that are weighed against each other, per hour, and as multiples. */
const BEGINS = ladder(1 / 600, 1, 11);
const ENDS = ladder(1 / 16, 8, 10);
const FACTORS = ladder(0.6, 12, 7);
/** What is older than so many moments is left out. */
const MOMENTS_MAX = 4_000;

/**
 * What is known of a pool's spells after its past, of which only answers show a spell, and evictions hint at one since they come
 * sooner in it: two states that follow each other at unknown rates (a hidden Markov chain in continuous time, by its forward
 * algorithm), weighed over a grid; mean and variance of each are those of the Gamma that is returned. So it counts, too, that it
 * is mostly an eviction that has somebody ask. `hazard`: evictions per machine-hour over all of the time.
 */
export function spellsLearned(past: PoolPast, hazard: number, prior: Spells = SPELLS_PRIOR): Spells {
  if (past.answers.length === 0) return prior;
  const moments = momentsOf(past);
  const points: Point[] = [];
  for (const begins of BEGINS)
    for (const ends of ENDS)
      for (const factor of FACTORS) {
        const before = lnGammaAt(prior.available, begins) + lnGammaAt(prior.dry, ends) + lnGammaAt(prior.factor, factor);
        points.push({ begins, ends, factor, ln: before + gone(moments, { begins, ends, factor, hazard }).ln });
      }
  const weights = weightsOf(points.map(({ ln }) => ln));
  const known = (of: (point: Point) => number) => gammaOf(points.map(of), weights);
  const [available, dry, factor] = [known(({ begins }) => begins), known(({ ends }) => ends), known((one) => one.factor)];
  const means = { begins: meanRate(available), ends: meanRate(dry), factor: meanRate(factor) };
  return { available, dry, factor, dryShare: gone(moments, { ...means, hazard }).dryShare };
}

type Point = Readonly<{ begins: number; ends: number; factor: number; ln: number }>;

const NONE = 0;
const EVICTED = 1;
const HAD = 2;
const REFUSED = 3;

/** Hours since the moment before, machines that ran in them, and what was seen at their end. */
type Moment = Readonly<{ hours: number; held: number; seen: number }>;

function momentsOf({ held, evictions, answers, now }: PoolPast): readonly Moment[] {
  const all = [
    ...held.map(({ at, level }) => ({ at, level, seen: NONE })),
    ...evictions.map((at) => ({ at, level: null, seen: EVICTED })),
    ...answers.map(({ at, isRefused }) => ({ at, level: null, seen: isRefused ? REFUSED : HAD })),
    { at: now, level: null, seen: NONE },
  ].sort((a, b) => a.at - b.at);
  let [before, level] = [all[0]?.at ?? now, 0];
  const moments = all.map((one): Moment => {
    const moment = { hours: one.at - before, held: level, seen: one.seen };
    before = one.at;
    level = one.level ?? level;
    return moment;
  });
  return moments.slice(-MOMENTS_MAX);
}

type Rates = Readonly<{ begins: number; ends: number; factor: number; hazard: number }>;

/** How likely the moments are, each state passing on what it had: to be had, and dry; and the share of machine-hours that was dry. */
function gone(moments: readonly Moment[], { begins, ends, factor, hazard }: Rates): Readonly<{ ln: number; dryShare: number }> {
  const isDry = begins / (begins + ends);
  // All of the time has the hazard that was seen.
  const alone = hazard / (1 - isDry + factor * isDry);
  let [free, dry, ln] = [1 - isDry, isDry, 0];
  let [machineHours, dryHours, evictions] = [0, 0, 0];
  for (const { hours, held, seen } of moments) {
    if (hours > 0) {
      const wasDry = dry;
      const [a, d] = [-begins - held * alone, -ends - held * alone * factor];
      const [middle, half] = [(a + d) / 2, (a - d) / 2];
      const root = Math.sqrt(half * half + begins * ends);
      const [up, down] = [Math.exp((middle + root) * hours), Math.exp((middle - root) * hours)];
      const [even, odd] = [(up + down) / 2, (up - down) / (2 * root)];
      const stay = even + odd * half;
      const stayDry = even - odd * half;
      [free, dry] = [free * stay + dry * odd * ends, free * odd * begins + dry * stayDry];
      machineHours += hours * held;
      dryHours += (hours * held * (wasDry + dry / (free + dry))) / 2;
    }
    if (seen === EVICTED) {
      dry *= factor;
      evictions++;
    } else if (seen === HAD) dry = 0;
    else if (seen === REFUSED) free = 0;
    const sum = free + dry;
    if (!(sum > 0)) return { ln: Number.NEGATIVE_INFINITY, dryShare: isDry };
    ln += Math.log(sum);
    free /= sum;
    dry /= sum;
  }
  // Each eviction came at the rate of its state.
  ln += evictions * Math.log(Math.max(alone, Number.MIN_VALUE));
  return { ln, dryShare: machineHours > 0 ? dryHours / machineHours : isDry };
}
