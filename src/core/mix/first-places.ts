import type { CompiledMix } from "./compiled";
import { Placing } from "./placing";
import { PoolClock } from "./pool-clock";

/**
 * Where a mix begins with so many units of spot, by its order and the prices of its start, as if nothing were dry: the
 * pools by their index, one for each machine in the order in which they are placed.
 */
export function firstPlaces(mix: CompiledMix, units: number): readonly number[] {
  // Clocks and nothing simpler: pools of two kinds would slow down every placing of a simulation.
  const pools = mix.pools.map((pool, k) => new PoolClock(pool, k, mix.horizonMs));
  const placing = new Placing(mix, pools);
  placing.weigh(units);
  const places: number[] = [];
  let room = units;
  for (let k = placing.next(room, Infinity); k >= 0; k = placing.next(room, Infinity)) {
    const pool = pools[k] as PoolClock;
    pool.held++;
    room -= pool.units;
    places.push(k);
  }
  return places;
}
