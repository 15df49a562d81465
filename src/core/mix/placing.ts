import type { Order } from "./mix";

/** Below this many units two pools are as far from their shares as each other. */
const TIE_UNITS = 1e-9;

/** A pool as it stands when something is placed: simulated, or of a cloud. */
export type Placeable = Readonly<{
  price: number;
  isOver: boolean;
  /** Since when machines can be had, without a break; Infinity: they cannot. */
  availableSince: number;
  /** Its machines being provisioned, set up or up. */
  held: number;
  pool: Readonly<{ units: number; orderHazard: number }>;
}>;

/** Which pool the order would take a machine from next, and which it would give one up from. */
export class Placing {
  private readonly weights: Float64Array;
  private readonly shares: Float64Array;
  /** Pools by price or by hazard, where the order is one of those. */
  private readonly ranked: Int32Array | null;

  constructor(
    private readonly mix: Readonly<{ order: Order }>,
    private readonly pools: readonly Placeable[],
  ) {
    this.weights = new Float64Array(pools.length);
    this.shares = new Float64Array(pools.length);
    this.ranked = mix.order === "cheapest" || mix.order === "steadiest" ? new Int32Array(pools.length) : null;
  }

  /** Weighs the pools anew, at today's prices, for so many units of spot. */
  weigh(units: number): void {
    if (this.ranked) return this.rank(this.ranked);
    const isBlend = this.mix.order === "blend";
    let sum = 0;
    for (let k = 0; k < this.pools.length; k++) {
      const { price, pool } = this.pools[k] as Placeable;
      const weight = isBlend ? 1 / (price * (1 + pool.orderHazard)) : 1;
      this.weights[k] = weight;
      sum += weight;
    }
    for (let k = 0; k < this.shares.length; k++) this.shares[k] = ((this.weights[k] as number) / sum) * units;
  }

  /** By insertion: few pools, mostly in order already; equals stay as they are listed. */
  private rank(ranked: Int32Array): void {
    const isByPrice = this.mix.order === "cheapest";
    for (let k = 0; k < ranked.length; k++) {
      const { price, pool } = this.pools[k] as Placeable;
      const weight = isByPrice ? price / pool.units : pool.orderHazard;
      this.weights[k] = weight;
      let i = k;
      for (; i > 0 && (this.weights[ranked[i - 1] as number] as number) > weight; i--) ranked[i] = ranked[i - 1] as number;
      ranked[i] = k;
    }
  }

  /**
   * The pool to take a machine of at most so many units from, of those that could be had since `since`; -1: none. Infinity:
   * of all but those over their cap, as if none were dry, which is how a trial begins.
   */
  next(room: number, since: number): number {
    const isFirst = since === Infinity;
    let best = -1;
    let most = -Infinity;
    for (let i = 0; i < this.pools.length; i++) {
      const k = this.ranked ? (this.ranked[i] as number) : i;
      const { availableSince, isOver, pool } = this.pools[k] as Placeable;
      if ((isFirst ? isOver : availableSince > since) || pool.units > room) continue;
      if (this.ranked) return k;
      const below = this.belowShare(k);
      if (below <= most + TIE_UNITS) continue;
      most = below;
      best = k;
    }
    return best;
  }

  /** The pool to give up a machine of, so many units being too many; -1: none is held. */
  toGiveUp(excess: number): number {
    const within = this.furthestAbove(excess);
    return within >= 0 ? within : this.furthestAbove(Infinity);
  }

  private furthestAbove(mostUnits: number): number {
    let best = -1;
    let most = -Infinity;
    for (let i = this.pools.length - 1; i >= 0; i--) {
      const k = this.ranked ? (this.ranked[i] as number) : i;
      const { held, pool } = this.pools[k] as Placeable;
      if (held === 0 || pool.units > mostUnits) continue;
      if (this.ranked) return k;
      const above = -this.belowShare(k);
      if (above <= most + TIE_UNITS) continue;
      most = above;
      best = k;
    }
    return best;
  }

  private belowShare(k: number): number {
    const { held, pool } = this.pools[k] as Placeable;
    return (this.shares[k] as number) - held * pool.units;
  }
}
