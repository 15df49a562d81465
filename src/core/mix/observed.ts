import type { Pool } from "./mix";
import { posterior, type Rate } from "./posterior";

/** What was seen of one pool, or of a size: `at` in hours; machines that went in the same instant of so many that were there. */
export type Observed = Readonly<{
  gone: readonly Readonly<{ at: number; count: number; held: number }>[];
  /** Machine-hours in all, and hours in which at least two machines were there. */
  machineHours: number;
  sharedHours: number;
}>;

/** A Gamma per machine-hour, as a pool's hazard takes it. */
type Gamma = Pick<Rate, "shape" | "rate">;
/** `reclaim` is null where no two ever went at once; its rate is per hour, as far as it is known, and the count is of the events that were seen. */
export type ObservedRates = Readonly<{ hazard: Rate; reclaim: Readonly<{ rate: Gamma; share: number; count: number }> | null }>;

/**
 * What evictions say of a pool: several at one instant are a reclaim event, all others go alone (docs/model.md, Capacity mix).
 * An event of which only one machine was taken looks like one alone: the rate of events counts those as well, by the share.
 */
export function ratesObserved({ gone, machineHours, sharedHours }: Observed, prior: Gamma): ObservedRates {
  const events = gone.filter(({ count }) => count >= 2);
  const taken = events.reduce((sum, { count }) => sum + count, 0);
  const there = events.reduce((sum, { held }) => sum + held, 0);
  const evictions = gone.reduce((sum, { count }) => sum + count, 0);
  const hazardOf = (n: number): Rate => posterior({ prior, evictions: n, machineHours });
  if (events.length === 0 || sharedHours <= 0) return { hazard: hazardOf(evictions), reclaim: null };
  const held = there / events.length;
  const share = shareBehind(taken / events.length, held);
  const seenShare = chanceOfTwo(share, held);
  // Those that an event took alone are no machine's own.
  const aloneInEvents = (events.length / seenShare) * held * share * (1 - share) ** (held - 1);
  const alone = Math.max(0, evictions - taken - aloneInEvents);
  return {
    hazard: hazardOf(alone),
    reclaim: { rate: { shape: events.length, rate: sharedHours * seenShare }, share, count: events.length },
  };
}

/** An answer to an order for a pool, `at` in hours. */
export type PoolAnswer = Readonly<{ at: number; isRefused: boolean }>;

/** Mean hours of spells in which machines were to be had, and of dry ones; how many dry ones there were. */
export type ObservedSpells = Readonly<{ availableHours: number; dryHours: number; count: number }>;

/** Nobody knows what a pool would have answered for longer than this before and after it was asked. */
const BESIDE_HOURS = 1;

/**
 * What the answers to orders say of a pool's spells, from the first of them to now (hours); null where it never refused. A dry
 * spell is a run of refusals, and reaches half-way to the answers beside it. Spells in which nobody asked are not seen.
 */
export function spellsObserved(answers: readonly PoolAnswer[], now: number): ObservedSpells | null {
  const inOrder = [...answers].sort((a, b) => a.at - b.at);
  const [first] = inOrder;
  if (!first) return null;
  const beside = (from: number, to: number) => Math.min(BESIDE_HOURS, (to - from) / 2);
  let [count, dry] = [0, 0];
  let [lastAt, wasRefused] = [first.at, false];
  for (const { at, isRefused } of inOrder) {
    if (isRefused && !wasRefused) count++;
    if (isRefused && wasRefused) dry += at - lastAt;
    else if (isRefused || wasRefused) dry += beside(lastAt, at);
    [lastAt, wasRefused] = [at, isRefused];
  }
  if (wasRefused) dry += beside(lastAt, now);
  if (count === 0) return null;
  return { availableHours: Math.max(0, now - first.at - dry) / count, dryHours: dry / count, count };
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

/** What was seen of a pool. `waves`: how many, how often an hour, and the share of it that one takes; null where there was none. */
export type PoolObserved = Readonly<{
  rate: Gamma;
  waves: Readonly<{ count: number; perHour: number; share: number }> | null;
  spells: ObservedSpells | null;
}>;

/** What a pool takes from what was seen for as long as nobody says otherwise: then it is null in a plan. */
const LEARNED = ["reclaimRate", "reclaimShare", "availableHours", "dryHours"] as const;

/** Waves and spells as a pool has them; null where they were not seen. */
export function wavesAndSpells({ waves, spells }: Omit<PoolObserved, "rate">): Pick<Pool, (typeof LEARNED)[number]> {
  return {
    reclaimRate: waves?.perHour ?? null,
    reclaimShare: waves?.share ?? null,
    availableHours: spells?.availableHours ?? null,
    dryHours: spells?.dryHours ?? null,
  };
}

/** A pool as it is known: what was seen counts, except where a person said otherwise. */
export function asObserved(pool: Pool, seen: PoolObserved): Pool {
  const { shape, rate } = seen.rate;
  const hazard = pool.hazard !== null && typeof pool.hazard === "object" ? { shape, rate } : pool.hazard;
  const said = Object.fromEntries(LEARNED.flatMap((key) => (pool[key] === null ? [] : [[key, pool[key]]])));
  return { ...pool, hazard, ...wavesAndSpells(seen), ...said };
}

/** A pool that was made of another by `asSeen`, as a person said it: what was only seen is null again. */
export function asSaid(pool: Pool, seen: Omit<PoolObserved, "rate">): Pool {
  const learned = wavesAndSpells(seen);
  return { ...pool, ...Object.fromEntries(LEARNED.map((key) => [key, pool[key] === learned[key] ? null : pool[key]])) };
}
