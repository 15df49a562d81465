import type { Held } from "./held";
import type { Placing } from "./placing";
import type { PoolClock } from "./pool-clock";

const NONE = -1;

/** So many units of spot are too many: what is waited for goes first, then what stands in, then machines, one at a time. */
export function callOff(held: Held, placing: Placing, units: number): void {
  let excess = callOffGaps(held, units);
  if (excess > 0) excess = callOffFallbacks(held, excess);
  while (excess > 0) {
    const k = placing.toGiveUp(excess);
    excess -= (held.pools[k] as PoolClock).pool.units;
    held.giveUp(held.youngestOf(k));
  }
  if (excess < 0) held.addGap(-excess, NONE, NONE);
}

function callOffGaps({ gaps }: Held, units: number): number {
  let excess = units;
  while (excess > 0 && !gaps.isEmpty) {
    const youngest = gaps.tail - 1;
    const open = gaps.units[youngest] as number;
    const taken = (gaps.pool[youngest] as number) < 0 ? Math.min(open, excess) : open;
    gaps.take(youngest, taken);
    excess -= taken;
  }
  return excess;
}

function callOffFallbacks({ fallbacks }: Held, units: number): number {
  let excess = units;
  for (let f = fallbacks.youngest; f !== NONE && excess > 0; ) {
    const older = fallbacks.older(f);
    const taken = Math.min(excess, (fallbacks.units[f] as number) - (fallbacks.returning[f] as number));
    if (taken > 0) {
      fallbacks.dropDisk(f);
      fallbacks.drop(f, taken, false);
    }
    excess -= taken;
    f = older;
  }
  return excess;
}
