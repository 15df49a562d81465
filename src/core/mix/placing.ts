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
  /** Units of one of its machines. */
  units: number;
  orderHazard: number;
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
      const { price, orderHazard } = this.pools[k] as Placeable;
      const weight = isBlend ? 1 / (price * (1 + orderHazard)) : 1;
      this.weights[k] = weight;
      sum += weight;
    }
    for (let k = 0; k < this.shares.length; k++) this.shares[k] = ((this.weights[k] as number) / sum) * units;
  }

  /** By insertion: few pools, mostly in order already; equals stay as they are listed. */
  private rank(ranked: Int32Array): void {
    const isByPrice = this.mix.order === "cheapest";
    for (let k = 0; k < ranked.length; k++) {
      const { price, units, orderHazard } = this.pools[k] as Placeable;
      const weight = isByPrice ? price / units : orderHazard;
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
    return this.ranked ? this.nextRanked(this.ranked, room, since) : this.furthestBelow(room, since);
  }

  private nextRanked(ranked: Int32Array, room: number, since: number): number {
    for (let i = 0; i < ranked.length; i++) {
      const k = ranked[i] as number;
      if (isToBeHad(this.pools[k] as Placeable, room, since)) return k;
    }
    return -1;
  }

  private furthestBelow(room: number, since: number): number {
    const { pools, shares } = this;
    let best = -1;
    let most = -Infinity;
    for (let k = 0; k < pools.length; k++) {
      const pool = pools[k] as Placeable;
      if (!isToBeHad(pool, room, since)) continue;
      const below = (shares[k] as number) - pool.held * pool.units;
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
      const { held, units } = this.pools[k] as Placeable;
      if (held === 0 || units > mostUnits) continue;
      if (this.ranked) return k;
      const above = held * units - (this.shares[k] as number);
      if (above <= most + TIE_UNITS) continue;
      most = above;
      best = k;
    }
    return best;
  }
}

function isToBeHad({ availableSince, isOver, units }: Placeable, room: number, since: number): boolean {
  return units <= room && (since === Infinity ? !isOver : availableSince <= since);
}
