import type { CompiledMix } from "./compiled";
import { type Held, targetOf } from "./held";
import type { Placing } from "./placing";
import type { PoolClock } from "./pool-clock";

const NONE = -1;

/** How gaps are filled again: attempts, firm units that stand in, and the way back to spot. */
export class Refill {
  /** The next instant at which an attempt could order anything; stale when gaps or pools changed. */
  private attemptAt = Infinity;
  isStale = true;

  constructor(
    private readonly mix: CompiledMix,
    private readonly held: Held,
    private readonly placing: Placing,
  ) {}

  /** When something of this is to be looked at next. */
  nextAt(): number {
    const { gaps, fallbacks } = this.held;
    let next = Infinity;
    if (!gaps.isEmpty) {
      if (this.isStale) this.lookAhead();
      next = Math.min(this.attemptAt, (gaps.since[gaps.head] as number) + this.mix.fallbackMs);
    }
    return fallbacks.waitingUnits > 0 ? Math.min(next, this.backAt()) : next;
  }

  /** Attempts, oldest gap first; fallback; the way back. */
  act(): void {
    if (!this.held.gaps.isEmpty) {
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
    for (let g = gaps.head; g < gaps.tail; g++)
      if (gaps.units[g] !== 0 && (now - (gaps.since[g] as number)) % refillMs === 0) return true;
    return false;
  }

  /** The next attempt after now; while none could order anything there is no need to make them. */
  private lookAhead(): void {
    const { gaps, now } = this.held;
    const { refillMs } = this.mix;
    this.isStale = false;
    this.attemptAt = Infinity;
    if (refillMs === Infinity || !this.couldOrder()) return;
    for (let g = gaps.head; g < gaps.tail; g++) {
      if (gaps.units[g] === 0) continue;
      const since = gaps.since[g] as number;
      this.attemptAt = Math.min(this.attemptAt, since + (Math.floor((now - since) / refillMs) + 1) * refillMs);
    }
  }

  private couldOrder(): boolean {
    const { gaps, now } = this.held;
    for (let k = 0; k < this.held.pools.length; k++) {
      const { availableSince, pool } = this.held.pools[k] as PoolClock;
      if (availableSince <= now && (gaps.disks > 0 || pool.units <= gaps.freeUnits)) return true;
    }
    return false;
  }

  private orderUntilNoneFits(): void {
    const { gaps, now } = this.held;
    if (gaps.disks > 0) this.restartDisks();
    while (gaps.freeUnits > 0) {
      const k = this.placing.next(gaps.freeUnits, now);
      if (k === NONE) return;
      const m = this.held.order(k, false);
      let units = (this.held.pools[k] as PoolClock).pool.units;
      for (let g = gaps.head; units > 0; g = Math.max(g + 1, gaps.head)) {
        const open = gaps.units[g] as number;
        if (open === 0 || (gaps.pool[g] as number) >= 0) continue;
        const taken = Math.min(open, units);
        this.held.promise(m, gaps.eviction[g] as number, taken);
        units -= taken;
        gaps.take(g, taken);
      }
    }
  }

  private restartDisks(): void {
    const { gaps, now } = this.held;
    for (let g = gaps.head; g < gaps.tail; g++) {
      const k = gaps.pool[g] as number;
      const units = gaps.units[g] as number;
      if (units === 0 || k < 0 || (this.held.pools[k] as PoolClock).availableSince > now) continue;
      this.held.promise(this.held.order(k, true), gaps.eviction[g] as number, units);
      gaps.take(g, units);
    }
  }

  private fallBack(): void {
    const { gaps, now } = this.held;
    const { fallbackMs } = this.mix;
    while (!gaps.isEmpty && (gaps.since[gaps.head] as number) + fallbackMs <= now) {
      const g = gaps.head;
      this.held.orderFirm(gaps.units[g] as number, gaps.pool[g] as number, gaps.eviction[g] as number);
      gaps.take(g, gaps.units[g] as number);
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
      const { units } = (this.held.pools[k] as PoolClock).pool;
      const m = this.held.order(k, false);
      let open = units;
      for (let f = fallbacks.oldest; open > 0; f = fallbacks.younger(f)) {
        if ((fallbacks.pool[f] as number) >= 0) continue;
        const taken = Math.min(open, (fallbacks.units[f] as number) - (fallbacks.returning[f] as number));
        if (taken === 0) continue;
        fallbacks.promise(f, taken);
        this.held.promise(m, targetOf(f), taken);
        open -= taken;
      }
      room -= units;
    }
  }

  private restartFallenDisks(since: number): void {
    const { fallbacks } = this.held;
    for (let f = fallbacks.oldest; f !== NONE; f = fallbacks.younger(f)) {
      const k = fallbacks.pool[f] as number;
      if (k < 0 || (this.held.pools[k] as PoolClock).availableSince > since) continue;
      const units = fallbacks.units[f] as number;
      fallbacks.dropDisk(f);
      fallbacks.promise(f, units);
      this.held.promise(this.held.order(k, true), targetOf(f), units);
    }
  }

  private freeFallbackUnits(): number {
    const { fallbacks } = this.held;
    if (fallbacks.disks === 0) return fallbacks.waitingUnits;
    let units = fallbacks.waitingUnits;
    for (let f = fallbacks.oldest; f !== NONE; f = fallbacks.younger(f))
      if ((fallbacks.pool[f] as number) >= 0) units -= fallbacks.units[f] as number;
    return units;
  }
}
