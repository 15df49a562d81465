import type { Machine } from "./machines";
import type { Placing } from "./placing";
import type { PoolClock } from "./pool-clock";
import type { TrialState } from "./trial-state";

const NONE = -1;

/** So many units of spot are too many: what is waited for goes first, then what stands in, then machines, one at a time. */
export function callOff(held: TrialState, placing: Placing, units: number): void {
  let excess = callOffGaps(held, units);
  if (excess > 0) excess = callOffFallbacks(held, excess);
  while (excess > 0) {
    const k = placing.toGiveUp(excess);
    const pool = held.pools[k] as PoolClock;
    excess -= pool.units;
    held.giveUp(held.machines.toGiveUp(pool) as Machine);
  }
  if (excess < 0) held.addGap(-excess, NONE, false);
}

function callOffGaps({ gaps }: TrialState, units: number): number {
  let excess = units;
  while (excess > 0 && gaps.youngest !== null) {
    const { youngest } = gaps;
    const taken = youngest.pool < 0 ? Math.min(youngest.units, excess) : youngest.units;
    gaps.take(youngest, taken);
    excess -= taken;
  }
  return excess;
}

function callOffFallbacks({ fallbacks }: TrialState, units: number): number {
  let excess = units;
  for (let block = fallbacks.youngest; block !== null && excess > 0; ) {
    const { older } = block;
    const taken = Math.min(excess, block.units - block.returning);
    if (taken > 0) {
      fallbacks.dropDisk(block);
      fallbacks.drop(block, taken, false);
    }
    excess -= taken;
    block = older;
  }
  return excess;
}
