import { type CompiledMix, ZERO } from "./compiled";
import type { Key } from "./draws";
import { type Block, Fallbacks } from "./fallbacks";
import { type Gap, Gaps } from "./gaps";
import { type Machine, Machines, PROVISIONED, SET_UP, UP } from "./machines";
import { PoolClock } from "./pool-clock";
import { ReadyQueue } from "./queue";
import { Replacements } from "./replacements";

const NONE = -1;

/**
 * All that a trial has and waits for: spot machines by pool, the gaps that evicted ones leave, and firm units that stand
 * in. Everything that happens to a machine happens here, at `now`.
 */
export class TrialState {
  now = ZERO;
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
  /** When the next thing happens to a pool, and to which: the first of those to which it happens then. */
  poolsAt = Infinity;
  nextPool = 0;
  private readonly nextOfPool: Float64Array;
  /** Kept disks whose machine is being provisioned. */
  private restarting = 0;
  private readonly provisioning = new ReadyQueue<Machine>();
  private readonly settingUp = new ReadyQueue<Machine>();
  private readonly firmProvisioning = new ReadyQueue<Block>();
  private readonly firmSettingUp = new ReadyQueue<Block>();

  constructor(private readonly mix: CompiledMix) {
    this.pools = mix.pools.map((pool, k) => new PoolClock(pool, k, mix.horizonMs));
    this.nextOfPool = new Float64Array(this.pools.length);
    this.machines = new Machines(mix.mostUnits + 1, this.pools);
  }

  begin(trial: Key): void {
    this.machines.clear();
    this.gaps.clear();
    this.fallbacks.clear();
    this.replacements.clear();
    for (const queue of [this.provisioning, this.settingUp, this.firmProvisioning, this.firmSettingUp]) queue.clear();
    for (const pool of this.pools) {
      pool.begin(trial);
      this.nextOfPool[pool.index] = pool.nextAt;
    }
    this.now = 0;
    this.evictions = 0;
    this.upUnits = 0;
    this.hasNewGap = false;
    this.restarting = 0;
    this.lookAtPools();
  }

  /** Something happened to a pool. */
  wasChanged(pool: PoolClock): void {
    this.nextOfPool[pool.index] = pool.nextAt;
    this.lookAtPools();
  }

  private lookAtPools(): void {
    const { nextOfPool } = this;
    let next = Infinity;
    for (let k = 0; k < nextOfPool.length; k++) {
      const at = nextOfPool[k] as number;
      if (at >= next) continue;
      next = at;
      this.nextPool = k;
    }
    this.poolsAt = next;
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
  placeFirst(pool: PoolClock): void {
    pool.held++;
    this.upUnits += pool.units;
    this.expose(this.machines.take(pool, UP));
  }

  order(k: number, isRestart: boolean): Machine {
    const pool = this.pools[k] as PoolClock;
    const machine = this.machines.take(pool, PROVISIONED);
    pool.held++;
    if (isRestart) {
      machine.isRestart = true;
      this.restarting++;
    }
    this.provisioning.push(this.now + this.mix.provisionMs, machine);
    return machine;
  }

  /** Firm units in place of what a gap still waits for. */
  standIn(gap: Gap): void {
    const block = this.fallbacks.order(gap.units, gap.pool, gap.isEviction ? gap : null);
    this.firmProvisioning.push(this.now + this.mix.provisionMs, block);
    this.gaps.take(gap, gap.units);
  }

  /** A machine on its way makes units of a gap good. */
  fill(machine: Machine, gap: Gap, units: number): void {
    // Nothing is told of what comes from no eviction.
    if (gap.isEviction) machine.link = this.replacements.link(machine.link, units, gap, null);
    this.gaps.take(gap, units);
  }

  /** A machine on its way takes over from firm units. */
  takeOver(machine: Machine, block: Block, units: number): void {
    this.fallbacks.promise(block, units);
    machine.link = this.replacements.link(machine.link, units, null, block);
  }

  addGap(units: number, pool: number, isEviction: boolean): void {
    this.gaps.add(this.now, units, pool, isEviction);
    this.hasNewGap = true;
  }

  /** Evicts what of a pool can be: all, or those that the reclaim event that is on takes. */
  evict(pool: PoolClock, isReclaim: boolean): void {
    for (let machine = this.machines.oldest(pool); machine !== null && machine.state !== PROVISIONED; ) {
      const { younger } = machine;
      if (!isReclaim || pool.isReclaimed(machine.number)) this.evictOne(machine);
      machine = younger;
    }
  }

  evictOne(machine: Machine): void {
    const { pool } = machine;
    this.evictions++;
    const stoodFor = this.leave(machine);
    // Where firm units stand in for it, they stay, and the way back orders another.
    const open = pool.units - stoodFor;
    if (open === 0) return;
    const keptIn = this.mix.keepsDisks && open === pool.units ? pool.index : NONE;
    this.addGap(open, keptIn, true);
  }

  /** A machine goes, for whatever reason. Units that firm ones stand in for, who wait again. */
  private leave(machine: Machine): number {
    const { pool, state } = machine;
    pool.held--;
    if (state === UP) this.upUnits -= pool.units;
    if (state !== PROVISIONED) pool.bill(-1, this.now);
    else if (machine.isRestart) this.restarting--;
    let stoodFor = 0;
    for (let { link } = machine; link !== null; link = this.replacements.takeNext(link)) {
      if (link.block === null) continue;
      stoodFor += link.units;
      this.fallbacks.promise(link.block, -link.units);
    }
    machine.link = null;
    this.machines.release(machine);
    return stoodFor;
  }

  /** A machine is given up, and with it the firm units that waited for it. */
  giveUp(machine: Machine): void {
    const { replacements, fallbacks } = this;
    for (let { link } = machine; link !== null; link = replacements.takeNext(link))
      if (link.block !== null) fallbacks.drop(link.block, link.units, true);
    machine.link = null;
    this.leave(machine);
  }

  /** Machines and firm units whose time has come. */
  becomeReady(): void {
    const { now } = this;
    while (this.provisioning.nextAt === now) {
      const machine = this.provisioning.take();
      if (machine) this.isProvisioned(machine);
    }
    while (this.settingUp.nextAt === now) {
      const machine = this.settingUp.take();
      if (machine) this.isUp(machine);
    }
    while (this.firmProvisioning.nextAt === now) {
      const block = this.firmProvisioning.take();
      if (!block) continue;
      this.fallbacks.move(block, SET_UP);
      this.firmSettingUp.push(now + this.mix.setupMs, block);
    }
    while (this.firmSettingUp.nextAt === now) {
      const block = this.firmSettingUp.take();
      if (!block) continue;
      this.fallbacks.move(block, UP);
      if (block.gap) this.replacements.cameUp(block.gap, block.units, now);
    }
  }

  private isProvisioned(machine: Machine): void {
    if (machine.isRestart) this.restarting--;
    this.machines.move(machine, SET_UP);
    this.expose(machine);
    // What went over its cap meanwhile is evicted the moment it could be.
    if (machine.pool.isOver) this.evictOne(machine);
    else if (machine.isRestart) this.isUp(machine);
    else this.settingUp.push(this.now + this.mix.setupMs, machine);
  }

  private isUp(machine: Machine): void {
    const { replacements, fallbacks } = this;
    this.machines.move(machine, UP);
    this.upUnits += machine.pool.units;
    for (let { link } = machine; link !== null; link = replacements.takeNext(link)) {
      if (link.gap !== null) replacements.cameUp(link.gap, link.units, this.now);
      if (link.block !== null) fallbacks.drop(link.block, link.units, true);
    }
    machine.link = null;
  }

  /** Billed from now on, and in danger. */
  private expose(machine: Machine): void {
    const { pool } = machine;
    pool.bill(1, this.now);
    pool.expose(machine, this.now);
    if (pool.nextAt === this.nextOfPool[pool.index]) return;
    this.wasChanged(pool);
  }
}
