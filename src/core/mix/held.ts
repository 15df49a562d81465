import type { CompiledMix } from "./compiled";
import type { Key } from "./draws";
import { Fallbacks } from "./fallbacks";
import { Gaps } from "./gaps";
import { FREE, Machines, PROVISIONED, SET_UP, UP } from "./machines";
import { PoolClock } from "./pool-clock";
import { ReadyQueue } from "./queue";
import { Replacements } from "./replacements";

const NONE = -1;

/**
 * All that a trial has and waits for: spot machines by pool, the gaps that evicted ones leave, and firm units that stand
 * in. Everything that happens to a machine happens here, at `now`.
 */
export class Held {
  now = 0;
  readonly pools: readonly PoolClock[];
  readonly machines: Machines;
  readonly gaps = new Gaps();
  readonly fallbacks = new Fallbacks();
  readonly replacements = new Replacements();
  evictions = 0;
  /** Spot units that are up. */
  upUnits = 0;
  /** A gap was left in this instant: it is attempted at once. */
  hasNewGap = false;
  /** When the next thing happens to a pool; stale once one did. */
  poolsAt = Infinity;
  /** Kept disks whose machine is being provisioned. */
  private restarting = 0;
  private readonly provisioning = new ReadyQueue();
  private readonly settingUp = new ReadyQueue();
  private readonly firmProvisioning = new ReadyQueue();
  private readonly firmSettingUp = new ReadyQueue();

  constructor(private readonly mix: CompiledMix) {
    this.pools = mix.pools.map((pool) => new PoolClock(pool, mix.horizonMs));
    this.machines = new Machines(mix.mostUnits + 1, this.pools.length);
  }

  begin(trial: Key): void {
    this.machines.clear();
    this.gaps.clear();
    this.fallbacks.clear();
    this.replacements.clear();
    for (const queue of [this.provisioning, this.settingUp, this.firmProvisioning, this.firmSettingUp]) queue.clear();
    for (const pool of this.pools) pool.begin(trial);
    this.now = 0;
    this.evictions = 0;
    this.upUnits = 0;
    this.hasNewGap = false;
    this.restarting = 0;
    this.lookAtPools();
  }

  /** Finds out anew when the next thing happens to a pool. */
  lookAtPools(): void {
    this.poolsAt = Infinity;
    for (let k = 0; k < this.pools.length; k++) {
      const { nextAt } = this.pools[k] as PoolClock;
      if (nextAt < this.poolsAt) this.poolsAt = nextAt;
    }
  }

  /** When the next thing becomes ready, or happens to a pool. */
  nextAt(): number {
    let next = this.poolsAt;
    if (this.provisioning.nextAt < next) next = this.provisioning.nextAt;
    if (this.settingUp.nextAt < next) next = this.settingUp.nextAt;
    if (this.firmProvisioning.nextAt < next) next = this.firmProvisioning.nextAt;
    if (this.firmSettingUp.nextAt < next) next = this.firmSettingUp.nextAt;
    return next;
  }

  /** Kept disks that cost money while their machine is down. */
  get disks(): number {
    return this.gaps.disks + this.fallbacks.disks + this.restarting;
  }

  /** A machine that is up from the beginning. */
  placeFirst(k: number): void {
    const pool = this.pools[k] as PoolClock;
    const m = this.machines.take(k, pool.numbers++, UP);
    pool.held++;
    this.upUnits += pool.pool.units;
    this.expose(m);
  }

  order(k: number, isRestart: boolean): number {
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

  orderFirm(units: number, pool: number, eviction: number): void {
    const f = this.fallbacks.order(units, pool, eviction);
    this.firmProvisioning.push(this.now + this.mix.provisionMs, f, this.fallbacks.life[f] as number);
  }

  /** What a machine on its way makes good: units of an eviction, or of a block of firm ones (see targetOf). */
  promise(m: number, target: number, units: number): void {
    // Nothing is told of what comes from no eviction.
    if (target !== NONE) this.machines.link[m] = this.replacements.link(this.machines.link[m] as number, target, units);
  }

  addGap(units: number, pool: number, eviction: number): void {
    this.gaps.add(this.now, units, pool, eviction);
    this.hasNewGap = true;
  }

  /** Evicts those in a state: all, or those that the reclaim event that is on takes. */
  evictWhere(k: number, state: number, reclaim: PoolClock | null): void {
    const { machines } = this;
    for (let m = machines.oldest(k, state); m !== NONE; ) {
      const younger = machines.younger(m);
      if (!reclaim || reclaim.isReclaimed(machines.number[m] as number)) this.evictOne(m);
      m = younger;
    }
  }

  evictOne(m: number): void {
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

  /** A machine is given up, and with it the firm units that waited for it. */
  giveUp(m: number): void {
    const { machines, replacements, fallbacks } = this;
    for (let l = machines.link[m] as number; l !== NONE; l = replacements.takeNext(l)) {
      const target = replacements.targetOf(l);
      if (target < NONE) fallbacks.drop(blockOf(target), replacements.unitsOf(l), true);
    }
    machines.link[m] = NONE;
    this.leave(m);
  }

  /** The machine of a pool that is given up first. */
  youngestOf(k: number): number {
    const { machines } = this;
    const provisioned = machines.youngest(k, PROVISIONED);
    if (provisioned !== NONE) return provisioned;
    const setUp = machines.youngest(k, SET_UP);
    return setUp !== NONE ? setUp : machines.youngest(k, UP);
  }

  /** Machines and firm units whose time has come. */
  becomeReady(): void {
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
}

/** A block of firm units as the target of a link: below -1. */
export function targetOf(block: number): number {
  return -2 - block;
}

function blockOf(target: number): number {
  return -2 - target;
}
