import { type Gamma, meanRate } from "./known";
import type { Pool } from "./mix";
import { posterior, type Rate } from "./posterior";
import { NOTHING_SEEN, type SizeSeen } from "./seen";
import { type PoolAnswer, SPELLS_PRIOR, type Spells, spellsLearned } from "./spells";
import { type Observed, type Waves, wavesLearned } from "./waves";

/** What is thought of a size of which nothing was seen: one eviction in some eighty machine-hours, and little trust in it. */
export const HAZARD_PRIOR: Gamma = { shape: 0.6, rate: 50 };

/**
 * What evictions say of a size: several at one instant are a wave, all others go alone, but for those that a wave took alone
 * (docs/model.md, Capacity mix).
 */
export function ratesObserved(seen: Observed, prior: Gamma): Readonly<{ hazard: Rate; waves: Waves }> {
  const { alone, ...waves } = wavesLearned(seen, prior);
  const single = seen.gone.filter(({ count }) => count === 1).length;
  return { hazard: posterior({ prior, evictions: single - alone, machineHours: seen.machineHours }), waves };
}

/** How many runs of refusals there are among the answers to orders. */
export function dryRuns(answers: readonly PoolAnswer[]): number {
  const inOrder = [...answers].sort((a, b) => a.at - b.at);
  return inOrder.filter(({ isRefused }, i) => isRefused && !inOrder[i - 1]?.isRefused).length;
}

/** What is known of a pool: of its size's evictions over all of the time and waves, of its own spells and how many dry ones were seen. */
export type PoolObserved = Readonly<{
  rate: Rate;
  waves: Waves & Readonly<{ count: number }>;
  spells: Spells & Readonly<{ count: number }>;
}>;

type Place = Readonly<{ size: string; zone: string }>;

/** Returns what tells what is known of a pool of a size in a zone. */
export function poolReader(sizes: ReadonlyMap<string, SizeSeen>): (place: Place) => PoolObserved & Readonly<{ own: SizeSeen }> {
  // What all zones of a size have in common is learned once.
  const rates = new Map<string, ReturnType<typeof ratesObserved>>();
  return ({ size, zone }) => {
    const own = sizes.get(size) ?? NOTHING_SEEN;
    const known = rates.get(size) ?? ratesObserved(own, HAZARD_PRIOR);
    rates.set(size, known);
    return poolKnown(own, { zone, ...known });
  };
}

type OfZone = Readonly<{ zone: string; hazard: Rate; waves: Waves }>;

function poolKnown(own: SizeSeen, { zone, hazard, waves }: OfZone): PoolObserved & Readonly<{ own: SizeSeen }> {
  const count = own.gone.filter((one) => one.count >= 2).length;
  const past = own.pasts.get(zone);
  const learned = past ? spellsLearned(past, hazard.mean) : SPELLS_PRIOR;
  return { rate: hazard, waves: { ...waves, count }, spells: { ...learned, count: past ? dryRuns(past.answers) : 0 }, own };
}

/** What a pool takes from what is known for as long as nobody says otherwise: then it is null in a plan. */
const LEARNED = ["reclaimRate", "reclaimShare", "availableHours", "dryHours", "dryHazardFactor"] as const;
type Learned = Pick<Pool, (typeof LEARNED)[number]>;

/** Waves and spells as a pool has them. */
export function wavesAndSpells({ waves, spells }: Omit<PoolObserved, "rate">): Learned {
  return {
    reclaimRate: waves.rate,
    reclaimShare: waves.share,
    availableHours: spells.available,
    dryHours: spells.dry,
    dryHazardFactor: spells.factor,
  };
}

/** A pool as it is known: what was learned counts, except where a person said otherwise. */
export function asObserved(pool: Pool, seen: PoolObserved): Pool {
  const isLearned = pool.hazard !== null && typeof pool.hazard === "object";
  const said = Object.fromEntries(LEARNED.flatMap((key) => (isSaid(pool[key]) ? [[key, pool[key]]] : [])));
  return { ...pool, hazard: isLearned ? freeHazard(seen) : pool.hazard, ...wavesAndSpells(seen), ...said };
}

/** A person says numbers; what is learned is never one. */
function isSaid(value: Learned[keyof Learned]): boolean {
  return typeof value === "number";
}

/** What the rate that was seen over all of the time comes to while machines are to be had. */
function freeHazard({ rate, spells }: PoolObserved): Gamma {
  return { shape: rate.shape, rate: rate.rate * (1 + (meanRate(spells.factor) - 1) * spells.dryShare) };
}

/** A pool that was made of another by `asObserved`, as a person said it: what was only learned is null again. */
export function asSaid(pool: Pool): Pool {
  return { ...pool, ...Object.fromEntries(LEARNED.map((key) => [key, isSaid(pool[key]) ? pool[key] : null])) };
}
