import { type CompiledMix, HOUR_MS, MINUTE_MS } from "./compiled";
import type { Key } from "./draws";
import { Fallbacks } from "./fallbacks";
import type { Fan } from "./fan";
import { Gaps } from "./gaps";
import { FREE, Machines, PROVISIONED, SET_UP, UP } from "./machines";
import { Placing } from "./placing";
import { PoolClock } from "./pool-clock";
import { ReadyQueue } from "./queue";
import { Replacements } from "./replacements";

const NONE = -1;

/**
 * One trial of a mix after another (docs/model.md, Simulation), by events. Everything is allocated once; what a trial
 * came to stands in the fields until the next. In one instant: prices and spells; evictions; machines that become
 * ready; changes of what is wanted; attempts, oldest gap first; fallback; the way back.
 */
export class Trial {
  cost = 0;
  evictions = 0;
  missingUnitMs = 0;
  fallbackUnitMs = 0;
  longestShortMs = 0;
  belowFloorMs = 0;

  private readonly pools: readonly PoolClock[];
  private readonly machines: Machines;
  private readonly placing: Placing;
  private readonly gaps = new Gaps();
  private readonly fallbacks = new Fallbacks();
  private readonly replacements = new Replacements();
  private readonly provisioning = new ReadyQueue();
  private readonly settingUp = new ReadyQueue();
  private readonly firmProvisioning = new ReadyQueue();
  private readonly firmSettingUp = new ReadyQueue();

  private now = 0;
  private step = 0;
  /** When the next thing happens to a pool, and when what is wanted changes next. */
  private poolsAt = Infinity;
  private isPoolsAtStale = true;
  private stepAt = Infinity;
  private wanted = 0;
  private firm = 0;
  private diskMs = 0;
  /** Kept disks whose machine is being provisioned. */
  private restarting = 0;
  private upUnits = 0;
  private shortSince = NONE;
  private fanPoint = 0;
  /** The next instant at which an attempt could order anything; stale when gaps or pools changed. */
  private attemptAt = Infinity;
  private isAttemptStale = true;
  private isAttemptNow = false;

  /** Firm units are there and paid for whatever happens. */
  private readonly firmUnitMs: number;

  constructor(
    private readonly mix: CompiledMix,
    private readonly fan: Fan | null,
  ) {
    this.firmUnitMs = wantedUnitMs(mix, mix.firm);
    this.pools = mix.pools.map((pool) => new PoolClock(pool, mix.horizonMs));
    this.machines = new Machines(mix.mostUnits + 1, this.pools.length);
    this.placing = new Placing(mix, this.pools);
  }

  /** Mean minutes from an eviction to its replacement; NaN: nothing was replaced. */
  get refillMinutes(): number {
    const { replaced, replacedMs } = this.replacements;
    return replaced === 0 ? Number.NaN : replacedMs / replaced / MINUTE_MS;
  }

  /** What all of it would cost at the firm price. */
  get allFirmCost(): number {
    return (wantedUnitMs(this.mix, Infinity) * this.mix.firmPrice) / HOUR_MS;
  }

  run(trial: Key): void {
    this.begin(trial);
    const { horizonMs } = this.mix;
    for (;;) {
      const next = this.nextInstant();
      if (next >= horizonMs) break;
      this.passUntil(next);
      if (this.poolsAt === next) {
        this.changePools();
        this.isPoolsAtStale = true;
      }
      this.becomeReady();
      if (this.stepAt === next) this.changeWanted();
      if (!this.gaps.isEmpty) {
        this.attempt();
        this.fallBack();
      }
      if (this.fallbacks.waitingUnits > 0) this.wayBack();
    }
    this.passUntil(horizonMs);
    this.end();
  }

  private begin(trial: Key): void {
    this.machines.clear();
    this.gaps.clear();
    this.fallbacks.clear();
    this.replacements.clear();
    for (const queue of [this.provisioning, this.settingUp, this.firmProvisioning, this.firmSettingUp]) queue.clear();
    for (const pool of this.pools) pool.begin(trial);
    this.now = 0;
    this.step = 0;
    this.evictions = 0;
    this.missingUnitMs = 0;
    this.fallbackUnitMs = 0;
    this.longestShortMs = 0;
    this.belowFloorMs = 0;
    this.diskMs = 0;
    this.restarting = 0;
    this.upUnits = 0;
    this.shortSince = NONE;
    this.fanPoint = 0;
    this.isAttemptNow = false;
    this.isAttemptStale = true;
    this.isPoolsAtStale = true;
    this.takeWanted();
    let room = this.wanted - this.firm;
    for (let k = this.placing.first(room); k !== NONE; k = this.placing.first(room)) {
      const pool = this.pools[k] as PoolClock;
      const m = this.machines.take(k, pool.numbers++, UP);
      pool.held++;
      this.upUnits += pool.pool.units;
      room -= pool.pool.units;
      this.expose(m);
    }
    if (room > 0) this.addGap(room, NONE, NONE);
    this.attempt();
    this.fallBack();
    this.wayBack();
  }

  private end(): void {
    const { firmPrice, diskPrice } = this.mix;
    let spot = 0;
    for (const pool of this.pools) {
      pool.bill(0, this.now);
      spot += pool.cost;
    }
    const firm = (this.firmUnitMs + this.fallbackUnitMs) * firmPrice;
    this.cost = (spot + firm + this.diskMs * diskPrice) / HOUR_MS;
    if (this.shortSince !== NONE) this.longestShortMs = Math.max(this.longestShortMs, this.now - this.shortSince);
  }

  private nextInstant(): number {
    const { pools, gaps } = this;
    if (this.isPoolsAtStale) {
      this.poolsAt = Infinity;
      for (let k = 0; k < pools.length; k++) {
        const { nextAt } = pools[k] as PoolClock;
        if (nextAt < this.poolsAt) this.poolsAt = nextAt;
      }
      this.isPoolsAtStale = false;
    }
    let next = this.poolsAt;
    if (this.provisioning.nextAt < next) next = this.provisioning.nextAt;
    if (this.settingUp.nextAt < next) next = this.settingUp.nextAt;
    if (this.firmProvisioning.nextAt < next) next = this.firmProvisioning.nextAt;
    if (this.firmSettingUp.nextAt < next) next = this.firmSettingUp.nextAt;
    if (this.stepAt < next) next = this.stepAt;
    if (!gaps.isEmpty) {
      if (this.isAttemptStale) this.lookAhead();
      next = Math.min(next, this.attemptAt, (gaps.since[gaps.head] as number) + this.mix.fallbackMs);
    }
    return this.fallbacks.waitingUnits > 0 ? Math.min(next, this.backAt()) : next;
  }

  /** Adds up what stands from now until then, an instant no event lies before. */
  private passUntil(then: number): void {
    const length = then - this.now;
    if (length > 0) {
      const capacity = this.firm + this.upUnits + this.fallbacks.upUnits;
      if (capacity < this.wanted) {
        this.missingUnitMs += (this.wanted - capacity) * length;
        if (this.shortSince === NONE) this.shortSince = this.now;
      } else if (this.shortSince !== NONE) {
        this.longestShortMs = Math.max(this.longestShortMs, this.now - this.shortSince);
        this.shortSince = NONE;
      }
      if (capacity < this.mix.floor) this.belowFloorMs += length;
      if (this.fallbacks.billedUnits > 0) this.fallbackUnitMs += this.fallbacks.billedUnits * length;
      if (this.mix.keepsDisks) this.diskMs += (this.gaps.disks + this.fallbacks.disks + this.restarting) * length;
      if (this.fan) this.draw(this.fan, capacity, then);
    }
    this.now = then;
  }

  private draw(fan: Fan, capacity: number, then: number): void {
    const bin = Math.floor(capacity / fan.unitsPerBin);
    for (; this.fanPoint < fan.points && this.fanPoint * fan.everyMs < then; this.fanPoint++) {
      const at = this.fanPoint * fan.bins + bin;
      fan.counts[at] = (fan.counts[at] as number) + 1;
    }
  }

  // Prices, spells, evictions.

  private changePools(): void {
    const { pools, now } = this;
    for (let k = 0; k < pools.length; k++) {
      const pool = pools[k] as PoolClock;
      // What one pool loses has no part in the price or the spells of another.
      if (pool.nextAt <= now) this.changePool(k, pool);
    }
  }

  private changePool(k: number, pool: PoolClock): void {
    const { machines, now } = this;
    if (pool.priceAt === now) {
      if (pool.changePrice(now)) this.isAttemptStale = true;
      this.placing.weigh(this.wanted - this.firm);
      if (pool.isOver) {
        this.evictWhere(k, SET_UP, null);
        this.evictWhere(k, UP, null);
      }
    }
    while (pool.spellAt === now) {
      pool.changeSpell(now);
      this.isAttemptStale = true;
    }
    while (pool.reclaimAt === now) {
      this.evictWhere(k, SET_UP, pool);
      this.evictWhere(k, UP, pool);
      pool.nextReclaim(now);
    }
    while (pool.evictAt <= now) {
      const m = pool.takeEvicted(now, machines.life);
      if (m !== NONE) this.evictOne(m);
    }
  }

  /** Evicts those in a state: all, or those that the reclaim event that is on takes. */
  private evictWhere(k: number, state: number, reclaim: PoolClock | null): void {
    const { machines } = this;
    for (let m = machines.oldest(k, state); m !== NONE; ) {
      const younger = machines.younger(m);
      if (!reclaim || reclaim.isReclaimed(machines.number[m] as number)) this.evictOne(m);
      m = younger;
    }
  }

  private evictOne(m: number): void {
    const k = this.machines.pool[m] as number;
    const { units } = (this.pools[k] as PoolClock).pool;
    this.evictions++;
    const stoodFor = this.leave(m);
    // Where firm units stand in for it, they stay, and the way back orders another.
    const open = units - stoodFor;
    if (open === 0) return;
    this.addGap(open, this.mix.keepsDisks && open === units ? k : NONE, this.replacements.evicted(this.now, open));
  }

  /** A machine goes, for whatever reason. Units that firm ones stand in for, who wait again. */
  private leave(m: number): number {
    const { machines } = this;
    const pool = this.pools[machines.pool[m] as number] as PoolClock;
    const state = machines.state[m] as number;
    pool.held--;
    if (state === UP) this.upUnits -= pool.pool.units;
    if (state !== PROVISIONED) pool.bill(-1, this.now);
    else if (machines.isRestart[m]) this.restarting--;
    let stoodFor = 0;
    for (let l = machines.link[m] as number; l !== NONE; l = this.replacements.takeNext(l)) {
      const target = this.replacements.targetOf(l);
      if (target >= NONE) continue;
      stoodFor += this.replacements.unitsOf(l);
      this.fallbacks.promise(blockOf(target), -this.replacements.unitsOf(l));
    }
    machines.link[m] = NONE;
    machines.move(m, FREE);
    return stoodFor;
  }

  // Machines that become ready.

  private becomeReady(): void {
    const { machines, fallbacks, now } = this;
    while (this.provisioning.nextAt === now) {
      const m = this.provisioning.take(machines.life);
      if (m !== NONE) this.isProvisioned(m);
    }
    while (this.settingUp.nextAt === now) {
      const m = this.settingUp.take(machines.life);
      if (m !== NONE) this.isUp(m);
    }
    while (this.firmProvisioning.nextAt === now) {
      const f = this.firmProvisioning.take(fallbacks.life);
      if (f === NONE) continue;
      fallbacks.move(f, SET_UP);
      this.firmSettingUp.push(now + this.mix.setupMs, f, fallbacks.life[f] as number);
    }
    while (this.firmSettingUp.nextAt === now) {
      const f = this.firmSettingUp.take(fallbacks.life);
      if (f === NONE) continue;
      fallbacks.move(f, UP);
      this.replacements.cameUp(fallbacks.eviction[f] as number, fallbacks.units[f] as number, now);
    }
  }

  private isProvisioned(m: number): void {
    const { machines } = this;
    const isRestart = machines.isRestart[m] === 1;
    if (isRestart) this.restarting--;
    machines.move(m, SET_UP);
    this.expose(m);
    // What went over its cap meanwhile is evicted the moment it could be.
    if ((this.pools[machines.pool[m] as number] as PoolClock).isOver) this.evictOne(m);
    else if (isRestart) this.isUp(m);
    else this.settingUp.push(this.now + this.mix.setupMs, m, machines.life[m] as number);
  }

  private isUp(m: number): void {
    const { machines, replacements, fallbacks } = this;
    machines.move(m, UP);
    this.upUnits += (this.pools[machines.pool[m] as number] as PoolClock).pool.units;
    for (let l = machines.link[m] as number; l !== NONE; l = replacements.takeNext(l)) {
      const target = replacements.targetOf(l);
      if (target >= NONE) replacements.cameUp(target, replacements.unitsOf(l), this.now);
      else fallbacks.drop(blockOf(target), replacements.unitsOf(l), true);
    }
    machines.link[m] = NONE;
  }

  /** Billed from now on, and in danger. */
  private expose(m: number): void {
    const { machines, now } = this;
    const pool = this.pools[machines.pool[m] as number] as PoolClock;
    pool.bill(1, now);
    pool.expose(m, machines.life[m] as number, machines.number[m] as number, now);
    if (pool.nextAt < this.poolsAt) this.poolsAt = pool.nextAt;
  }

  // What is wanted.

  private takeWanted(): void {
    const { stepAt, stepUnits } = this.mix;
    this.wanted = stepUnits[this.step] as number;
    this.stepAt = this.step + 1 < stepAt.length ? (stepAt[this.step + 1] as number) : Infinity;
    this.firm = Math.min(this.mix.firm, this.wanted);
    this.placing.weigh(this.wanted - this.firm);
  }

  private changeWanted(): void {
    const before = this.wanted - this.firm;
    this.step++;
    this.takeWanted();
    const rise = this.wanted - this.firm - before;
    if (rise > 0) this.addGap(rise, NONE, NONE);
    else if (rise < 0) this.fall(-rise);
  }

  /** So many units of spot are too many. */
  private fall(units: number): void {
    let excess = this.callOffGaps(units);
    if (excess > 0) excess = this.callOffFallbacks(excess);
    while (excess > 0) {
      const k = this.placing.toGiveUp(excess);
      const m = this.youngestOf(k);
      excess -= (this.pools[k] as PoolClock).pool.units;
      this.giveUp(m);
    }
    if (excess < 0) this.addGap(-excess, NONE, NONE);
  }

  private callOffGaps(units: number): number {
    const { gaps } = this;
    let excess = units;
    while (excess > 0 && !gaps.isEmpty) {
      const youngest = gaps.tail - 1;
      const open = gaps.units[youngest] as number;
      const taken = (gaps.pool[youngest] as number) < 0 ? Math.min(open, excess) : open;
      gaps.take(youngest, taken);
      excess -= taken;
    }
    this.isAttemptStale = true;
    return excess;
  }

  private callOffFallbacks(units: number): number {
    const { fallbacks } = this;
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

  private youngestOf(k: number): number {
    const { machines } = this;
    const provisioned = machines.youngest(k, PROVISIONED);
    if (provisioned !== NONE) return provisioned;
    const setUp = machines.youngest(k, SET_UP);
    return setUp !== NONE ? setUp : machines.youngest(k, UP);
  }

  /** A machine is given up, and with it the firm units that waited for it. */
  private giveUp(m: number): void {
    const { machines, replacements, fallbacks } = this;
    for (let l = machines.link[m] as number; l !== NONE; l = replacements.takeNext(l)) {
      const target = replacements.targetOf(l);
      if (target < NONE) fallbacks.drop(blockOf(target), replacements.unitsOf(l), true);
    }
    machines.link[m] = NONE;
    this.leave(m);
  }

  // Attempts.

  private addGap(units: number, pool: number, eviction: number): void {
    this.gaps.add(this.now, units, pool, eviction);
    this.isAttemptNow = true;
    this.isAttemptStale = true;
  }

  private attempt(): void {
    const { now } = this;
    if (!this.isAttemptNow && !this.isAttemptStale && this.attemptAt !== now) return;
    if (this.isAttemptNow || this.isAttemptDue()) this.orderUntilNoneFits();
    this.isAttemptNow = false;
    this.isAttemptStale = true;
  }

  private isAttemptDue(): boolean {
    const { gaps, now } = this;
    const { refillMs } = this.mix;
    if (refillMs === Infinity || !this.couldOrder()) return false;
    for (let g = gaps.head; g < gaps.tail; g++)
      if (gaps.units[g] !== 0 && (now - (gaps.since[g] as number)) % refillMs === 0) return true;
    return false;
  }

  /** The next attempt after now; while none could order anything there is no need to make them. */
  private lookAhead(): void {
    const { gaps, now } = this;
    const { refillMs } = this.mix;
    this.isAttemptStale = false;
    this.attemptAt = Infinity;
    if (refillMs === Infinity || !this.couldOrder()) return;
    for (let g = gaps.head; g < gaps.tail; g++) {
      if (gaps.units[g] === 0) continue;
      const since = gaps.since[g] as number;
      this.attemptAt = Math.min(this.attemptAt, since + (Math.floor((now - since) / refillMs) + 1) * refillMs);
    }
  }

  private couldOrder(): boolean {
    const { gaps, now } = this;
    for (let k = 0; k < this.pools.length; k++) {
      const { availableSince, pool } = this.pools[k] as PoolClock;
      if (availableSince <= now && (gaps.disks > 0 || pool.units <= gaps.freeUnits)) return true;
    }
    return false;
  }

  private orderUntilNoneFits(): void {
    const { gaps, now } = this;
    if (gaps.disks > 0) this.restartDisks();
    while (gaps.freeUnits > 0) {
      const k = this.placing.next(gaps.freeUnits, now);
      if (k === NONE) return;
      const m = this.order(k, false);
      let units = (this.pools[k] as PoolClock).pool.units;
      for (let g = gaps.head; units > 0; g = Math.max(g + 1, gaps.head)) {
        const open = gaps.units[g] as number;
        if (open === 0 || (gaps.pool[g] as number) >= 0) continue;
        const taken = Math.min(open, units);
        this.promise(m, gaps.eviction[g] as number, taken);
        units -= taken;
        gaps.take(g, taken);
      }
    }
  }

  private restartDisks(): void {
    const { gaps, now } = this;
    for (let g = gaps.head; g < gaps.tail; g++) {
      const k = gaps.pool[g] as number;
      const units = gaps.units[g] as number;
      if (units === 0 || k < 0 || (this.pools[k] as PoolClock).availableSince > now) continue;
      this.promise(this.order(k, true), gaps.eviction[g] as number, units);
      gaps.take(g, units);
    }
  }

  private order(k: number, isRestart: boolean): number {
    const { machines } = this;
    const pool = this.pools[k] as PoolClock;
    const m = machines.take(k, pool.numbers++, PROVISIONED);
    pool.held++;
    if (isRestart) {
      machines.isRestart[m] = 1;
      this.restarting++;
    }
    this.provisioning.push(this.now + this.mix.provisionMs, m, machines.life[m] as number);
    return m;
  }

  private promise(m: number, target: number, units: number): void {
    // Nothing is told of what comes from no eviction.
    if (target !== NONE) this.machines.link[m] = this.replacements.link(this.machines.link[m] as number, target, units);
  }

  // Fallback, and the way back.

  private fallBack(): void {
    const { gaps, fallbacks, now } = this;
    const { fallbackMs, provisionMs } = this.mix;
    while (!gaps.isEmpty && (gaps.since[gaps.head] as number) + fallbackMs <= now) {
      const g = gaps.head;
      const f = fallbacks.order(gaps.units[g] as number, gaps.pool[g] as number, gaps.eviction[g] as number);
      gaps.take(g, gaps.units[g] as number);
      this.isAttemptStale = true;
      this.firmProvisioning.push(now + provisionMs, f, fallbacks.life[f] as number);
    }
  }

  /** When a pool that could give something back will have been available for long enough. */
  private backAt(): number {
    const { returnMs } = this.mix;
    let next = Infinity;
    for (let k = 0; k < this.pools.length; k++) {
      const { availableSince } = this.pools[k] as PoolClock;
      const at = availableSince + returnMs;
      // Those whose time has come were looked at then.
      if (at > this.now && at < next) next = at;
    }
    return next;
  }

  private wayBack(): void {
    const { fallbacks } = this;
    const since = this.now - this.mix.returnMs;
    if (fallbacks.disks > 0) this.restartFallenDisks(since);
    let room = this.freeFallbackUnits();
    for (let k = this.placing.next(room, since); k !== NONE; k = this.placing.next(room, since)) {
      const { units } = (this.pools[k] as PoolClock).pool;
      const m = this.order(k, false);
      let open = units;
      for (let f = fallbacks.oldest; open > 0; f = fallbacks.younger(f)) {
        if ((fallbacks.pool[f] as number) >= 0) continue;
        const taken = Math.min(open, (fallbacks.units[f] as number) - (fallbacks.returning[f] as number));
        if (taken === 0) continue;
        fallbacks.promise(f, taken);
        this.promise(m, targetOf(f), taken);
        open -= taken;
      }
      room -= units;
    }
  }

  private restartFallenDisks(since: number): void {
    const { fallbacks } = this;
    for (let f = fallbacks.oldest; f !== NONE; f = fallbacks.younger(f)) {
      const k = fallbacks.pool[f] as number;
      if (k < 0 || (this.pools[k] as PoolClock).availableSince > since) continue;
      const units = fallbacks.units[f] as number;
      fallbacks.dropDisk(f);
      fallbacks.promise(f, units);
      this.promise(this.order(k, true), targetOf(f), units);
    }
  }

  private freeFallbackUnits(): number {
    const { fallbacks } = this;
    if (fallbacks.disks === 0) return fallbacks.waitingUnits;
    let units = fallbacks.waitingUnits;
    for (let f = fallbacks.oldest; f !== NONE; f = fallbacks.younger(f))
      if ((fallbacks.pool[f] as number) >= 0) units -= fallbacks.units[f] as number;
    return units;
  }
}

/** Unit-milliseconds that are wanted over the horizon, of each instant at most so many units. */
function wantedUnitMs({ stepAt, stepUnits, horizonMs }: CompiledMix, most: number): number {
  let unitMs = 0;
  for (let i = 0; i < stepAt.length; i++) {
    const to = Math.min(horizonMs, stepAt[i + 1] ?? horizonMs);
    unitMs += Math.max(0, to - (stepAt[i] as number)) * Math.min(most, stepUnits[i] as number);
  }
  return unitMs;
}

/** A block of firm units as the target of a link: below -1. */
function targetOf(block: number): number {
  return -2 - block;
}

function blockOf(target: number): number {
  return -2 - target;
}
