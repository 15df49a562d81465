import { type Mix, mostWanted, orderHazard } from "./mix";
import { Placing } from "./placing";

/** How many machines each pool would hold with everything wanted up and nothing dry, by the mix's order; by pool. */
export function firstPlaces(mix: Mix): ReadonlyMap<string, number> {
  const held = mix.pools.map((pool) => ({
    name: pool.name,
    price: pool.priceSeries?.[0] ?? pool.price ?? 0,
    isOver: pool.cap != null && (pool.priceSeries?.[0] ?? pool.price ?? 0) > pool.cap,
    availableSince: Number.NEGATIVE_INFINITY,
    held: 0,
    pool: { units: pool.unitsPerMachine, orderHazard: orderHazard(pool) },
  }));
  let room = mostWanted(mix.wanted) - mix.firm;
  const placing = new Placing(mix, held);
  placing.weigh(room);
  for (let k = placing.next(room, Number.POSITIVE_INFINITY); k >= 0; k = placing.next(room, Number.POSITIVE_INFINITY)) {
    const taken = held[k] as (typeof held)[number];
    taken.held++;
    room -= taken.pool.units;
  }
  return new Map(held.map(({ name, held: count }) => [name, count]));
}
