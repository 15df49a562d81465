import { meanHours, meanRate } from "./known";
import { type Mix, mostWanted, orderHazard } from "./mix";

/** What one event of a simulation, and beginning one trial, takes on a common processor, in seconds; rounded up. */
const SECONDS_AN_EVENT = 0.6e-6;
const SECONDS_A_TRIAL = 20e-6;
/** An eviction, the attempt to refill, and what becomes ready. */
const EVENTS_AN_EVICTION = 4;

/** Events that one trial of a mix over so many days will likely have: no count, but of the right size. */
export function expectedEvents(mix: Mix, days: number): number {
  const hours = 24 * days;
  const { pools, wanted } = mix;
  const spot = Math.max(0, mostWanted(wanted) - mix.firm);
  const steps = typeof wanted === "number" ? 1 : wanted.length;
  let [hazard, others, machines] = [0, 0, mix.firm];
  for (const pool of pools) {
    const { priceSeries, availableHours, dryHours, reclaimRate, unitsPerMachine } = pool;
    hazard = Math.max(hazard, orderHazard(pool) / unitsPerMachine);
    machines = Math.max(machines, mix.firm + spot / unitsPerMachine);
    const dry = meanHours(dryHours ?? 0);
    const turn = meanHours(availableHours ?? 0) + dry;
    const spells = availableHours !== null && dryHours !== null && turn > 0 ? (2 * hours) / turn : 0;
    others += (priceSeries ? hours : 0) + spells + meanRate(reclaimRate ?? 0) * hours;
    // While a pool is dry what is missing is asked for again and again.
    if (mix.refillEveryMinutes !== null && spells > 0) others += (hours * dry * 60) / turn / mix.refillEveryMinutes;
  }
  return machines + steps + others + spot * hazard * hours * EVENTS_AN_EVICTION;
}

/** Seconds of computing that a trial of a mix likely takes on one processor. */
export function trialSeconds(mix: Mix, days: number): number {
  return SECONDS_A_TRIAL + expectedEvents(mix, days) * SECONDS_AN_EVENT;
}
