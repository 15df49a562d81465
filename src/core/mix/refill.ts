import type { CompiledMix } from "./compiled";
import type { Placing } from "./placing";
import type { PoolClock } from "./pool-clock";
import type { TrialState } from "./trial-state";

const NONE = -1;

/** How gaps are filled again: attempts, firm units that stand in, and the way back to spot. */
export class Refill {
  /** The next instant at which an attempt could order anything; stale when gaps or pools changed. */
  private attemptAt = Infinity;
  isStale = true;

  constructor(
    private readonly mix: CompiledMix,
    private readonly held: TrialState,
    private readonly placing: Placing,
  ) {}

  /** When something of this is to be looked at next. */
  nextAt(): number {
    const { gaps, fallbacks } = this.held;
    let next = Infinity;
    if (gaps.oldest !== null) {
      if (this.isStale) this.lookAhead();
      next = Math.min(this.attemptAt, gaps.oldest.since + this.mix.fallbackMs);
    }
    return fallbacks.waitingUnits > 0 ? Math.min(next, this.backAt()) : next;
  }

  /** Attempts, oldest gap first; fallback; the way back. */
  act(): void {
    if (this.held.gaps.oldest !== null) {
      this.attempt();
      this.fallBack();
    }
    // One that was left and called off in the same instant is none.
    this.held.hasNewGap = false;
    if (this.held.fallbacks.waitingUnits > 0) this.wayBack();
  }

  private attempt(): void {
    const { held } = this;
    if (!held.hasNewGap && !this.isStale && this.attemptAt !== held.now) return;
    if (held.hasNewGap || this.isAttemptDue()) this.orderUntilNoneFits();
    held.hasNewGap = false;
    this.isStale = true;
  }

  private isAttemptDue(): boolean {
    const { gaps, now } = this.held;
    const { refillMs } = this.mix;
    if (refillMs === Infinity || !this.couldOrder()) return false;
    for (let gap = gaps.oldest; gap !== null; gap = gap.younger) if ((now - gap.since) % refillMs === 0) return true;
    return false;
  }

  /** The next attempt after now; while none could order anything there is no need to make them. */
  private lookAhead(): void {
    const { gaps, now } = this.held;
    const { refillMs } = this.mix;
    this.isStale = false;
    this.attemptAt = Infinity;
    if (refillMs === Infinity || !this.couldOrder()) return;
    for (let gap = gaps.oldest; gap !== null; gap = gap.younger) {
      const at = gap.since + (Math.floor((now - gap.since) / refillMs) + 1) * refillMs;
      if (at < this.attemptAt) this.attemptAt = at;
    }
  }

  private couldOrder(): boolean {
    const { gaps, now } = this.held;
    for (let k = 0; k < this.held.pools.length; k++) {
      const { availableSince, units } = this.held.pools[k] as PoolClock;
      if (availableSince <= now && (gaps.disks > 0 || units <= gaps.freeUnits)) return true;
    }
    return false;
  }

  private orderUntilNoneFits(): void {
    const { gaps, now } = this.held;
    if (gaps.disks > 0) this.restartDisks();
    while (gaps.freeUnits > 0) {
      const k = this.placing.next(gaps.freeUnits, now);
      if (k === NONE) return;
      const machine = this.held.order(k, false);
      let { units } = this.held.pools[k] as PoolClock;
      for (let gap = gaps.oldest; gap !== null && units > 0; gap = gap.younger) {
        if (gap.pool >= 0) continue;
        const taken = Math.min(gap.units, units);
        this.held.fill(machine, gap, taken);
        units -= taken;
      }
    }
  }

  private restartDisks(): void {
    const { gaps, now } = this.held;
    for (let gap = gaps.oldest; gap !== null; gap = gap.younger) {
      const { pool } = gap;
      if (pool < 0 || (this.held.pools[pool] as PoolClock).availableSince > now) continue;
      this.held.fill(this.held.order(pool, true), gap, gap.units);
    }
  }

  private fallBack(): void {
    const { gaps, now } = this.held;
    const { fallbackMs } = this.mix;
    while (gaps.oldest !== null && gaps.oldest.since + fallbackMs <= now) {
      this.held.standIn(gaps.oldest);
      this.isStale = true;
    }
  }

  /** When a pool that could give something back will have been available for long enough. */
  private backAt(): number {
    const { returnMs } = this.mix;
    let next = Infinity;
    for (let k = 0; k < this.held.pools.length; k++) {
      const { availableSince } = this.held.pools[k] as PoolClock;
      const at = availableSince + returnMs;
      // Those whose time has come were looked at then.
      if (at > this.held.now && at < next) next = at;
    }
    return next;
  }

  private wayBack(): void {
    const { fallbacks } = this.held;
    const since = this.held.now - this.mix.returnMs;
    if (fallbacks.disks > 0) this.restartFallenDisks(since);
    let room = this.freeFallbackUnits();
    for (let k = this.placing.next(room, since); k !== NONE; k = this.placing.next(room, since)) {
      const { units } = this.held.pools[k] as PoolClock;
      const machine = this.held.order(k, false);
      let open = units;
      for (let block = fallbacks.oldest; block !== null && open > 0; block = block.younger) {
        if (block.pool >= 0) continue;
        const taken = Math.min(open, block.units - block.returning);
        if (taken === 0) continue;
        this.held.takeOver(machine, block, taken);
        open -= taken;
      }
      room -= units;
    }
  }

  private restartFallenDisks(since: number): void {
    const { fallbacks } = this.held;
    for (let block = fallbacks.oldest; block !== null; block = block.younger) {
      const { pool, units } = block;
      if (pool < 0 || (this.held.pools[pool] as PoolClock).availableSince > since) continue;
      fallbacks.dropDisk(block);
      this.held.takeOver(this.held.order(pool, true), block, units);
    }
  }

  private freeFallbackUnits(): number {
    const { fallbacks } = this.held;
    if (fallbacks.disks === 0) return fallbacks.waitingUnits;
    let units = fallbacks.waitingUnits;
    for (let block = fallbacks.oldest; block !== null; block = block.younger) if (block.pool >= 0) units -= block.units;
    return units;
  }
}
