import { wordOf } from "./draws";
import { firmOver } from "./firm-units";
import type { Beta, Gamma } from "./known";
import { type Mix, mostWanted, type Order, orderHazard, type Pool } from "./mix";
import { poolPlace } from "./pool-name";

/** Instants and lengths are whole milliseconds since the start; Infinity where a thing does not happen. */
export type CompiledPool = Readonly<{
  word: number;
  /** The same of its size: what is known of a size is drawn alike for all its pools. */
  sizeWord: number;
  units: number;
  /** Per machine-hour, one per hour, again from its end. */
  prices: Float64Array;
  /** Hours from each at which the price is another; 0 where it never is. */
  untilOther: Int32Array;
  cap: number;
  hazard: Pool["hazard"];
  orderHazard: number;
  /** Per hour; 0 where no wave takes anything. */
  reclaimRate: number | Gamma;
  reclaimShare: number | Beta;
  /** Hours: 0 to be had is dry for ever, Infinity is never dry. */
  availableHours: number | Gamma;
  dryHours: number | Gamma;
  dryHazardFactor: number | Gamma;
}>;

/** A mix in the units that the simulation runs in. */
export type CompiledMix = Readonly<{
  horizonMs: number;
  /** N(t) from each instant on; the first is 0. */
  stepAt: Float64Array;
  stepUnits: Int32Array;
  mostUnits: number;
  /** Firm units that are up from each instant on, and their unit-milliseconds that are billed. */
  firmAt: Float64Array;
  firmUnits: Int32Array;
  firmUnitMs: number;
  firm: number;
  firmPrice: number;
  setupMs: number;
  provisionMs: number;
  keepsDisks: boolean;
  diskPrice: number;
  refillMs: number;
  fallbackMs: number;
  returnMs: number;
  floor: number;
  order: Order;
  pools: readonly CompiledPool[];
}>;

export const MINUTE_MS = 60_000;
export const HOUR_MS = 3_600_000;
const DAY_MS = 86_400_000;
/**
 * 0 as a fraction, for a field to begin with: one that begins as a whole number is laid out anew at its first fraction, and all
 * that was compiled for it is compiled again.
 */
export const ZERO = -0;

/** The mix over so many days from its start. */
export function compileMix(mix: Mix, days: number): CompiledMix {
  const horizonMs = Math.round(days * DAY_MS);
  const steps = stepsOf(mix.wanted);
  const [provisionMs, setupMs] = [msOf(mix.provisionMinutes ?? 0), msOf(mix.setupMinutes ?? 0)];
  const firm = firmOver(steps, { most: mix.firm, provisionMs, setupMs, horizonMs });
  return {
    horizonMs,
    stepAt: Float64Array.from(steps, ({ at }) => at),
    stepUnits: Int32Array.from(steps, ({ units }) => units),
    mostUnits: mostWanted(mix.wanted),
    firmAt: Float64Array.from(firm.up, ({ at }) => at),
    firmUnits: Int32Array.from(firm.up, ({ units }) => units),
    firmUnitMs: firm.unitMs,
    firm: mix.firm,
    firmPrice: mix.firmPrice,
    setupMs,
    provisionMs,
    keepsDisks: mix.eviction === "keep disks",
    diskPrice: mix.diskPrice ?? 0,
    // Of less than a millisecond there is none.
    refillMs: mix.refillEveryMinutes === null ? Infinity : Math.max(1, msOf(mix.refillEveryMinutes)),
    fallbackMs: mix.fallbackAfterMinutes === null ? Infinity : msOf(mix.fallbackAfterMinutes),
    returnMs: mix.returnAfterMinutes === null ? Infinity : msOf(mix.returnAfterMinutes),
    floor: mix.floor ?? 0,
    order: mix.order,
    pools: mix.pools.map(compilePool),
  };
}

function msOf(minutes: number): number {
  return Math.round(minutes * MINUTE_MS);
}

function compilePool(pool: Pool): CompiledPool {
  const prices = Float64Array.from(pool.priceSeries ?? [pool.price as number]);
  const isDryForEver = pool.availableHours === 0;
  const neverDry = !isDryForEver && (pool.availableHours === null || !pool.dryHours);
  return {
    word: wordOf(pool.name),
    sizeWord: wordOf(poolPlace(pool.name)?.size ?? pool.name),
    units: pool.unitsPerMachine,
    prices,
    untilOther: untilOther(prices),
    cap: pool.cap ?? Infinity,
    hazard: pool.hazard,
    orderHazard: orderHazard(pool),
    reclaimRate: pool.reclaimShare ? (pool.reclaimRate ?? 0) : 0,
    reclaimShare: pool.reclaimShare ?? 0,
    availableHours: isDryForEver ? 0 : neverDry ? Infinity : (pool.availableHours as number | Gamma),
    dryHours: isDryForEver ? Infinity : neverDry ? 0 : (pool.dryHours as number | Gamma),
    dryHazardFactor: pool.dryHazardFactor ?? 1,
  };
}

function untilOther(prices: Float64Array): Int32Array {
  const count = prices.length;
  const until = new Int32Array(count);
  if (prices.every((price) => price === prices[0])) return until;
  // Twice around from the back: the first time the end of the circle is not known yet.
  for (let h = 2 * count - 1; h >= 0; h--) {
    const [here, next] = [h % count, (h + 1) % count];
    until[here] = prices[here] === prices[next] ? (until[next] as number) + 1 : 1;
  }
  return until;
}

/** N as it changes: the first at 0, holes and past the last step none. */
function stepsOf(wanted: Mix["wanted"]): readonly Readonly<{ at: number; units: number }>[] {
  if (typeof wanted === "number") return [{ at: 0, units: wanted }];
  const steps: { at: number; units: number }[] = [{ at: 0, units: 0 }];
  const add = (at: number, units: number) => {
    const last = steps.at(-1) as (typeof steps)[number];
    if (last.at === at) last.units = units;
    else if (last.units !== units) steps.push({ at, units });
  };
  for (const { from, to, units } of [...wanted].sort((a, b) => a.from - b.from)) {
    add(Math.round(from * HOUR_MS), units);
    add(Math.round(to * HOUR_MS), 0);
  }
  return steps.filter(({ units }, i) => i === 0 || units !== steps[i - 1]?.units);
}
