import { callOff } from "./call-off";
import { type CompiledMix, HOUR_MS, MINUTE_MS, ZERO } from "./compiled";
import type { Key } from "./draws";
import type { Fan } from "./fan";
import { firstPlaces } from "./first-places";
import { Placing } from "./placing";
import type { PoolClock } from "./pool-clock";
import { Refill } from "./refill";
import { TrialState } from "./trial-state";

const NONE = -1;

/**
 * One trial of a mix after another (docs/model.md, Simulation), by events. Everything is allocated once; what a trial
 * came to stands in the fields until the next. In one instant: prices and spells; evictions; machines that become
 * ready; changes of what is wanted; attempts, oldest gap first; fallback; the way back.
 */
export class Trial {
  cost = ZERO;
  missingUnitMs = ZERO;
  fallbackUnitMs = ZERO;
  longestShortMs = ZERO;
  belowFloorMs = ZERO;

  private readonly held: TrialState;
  private readonly placing: Placing;
  private readonly refill: Refill;
  private step = 0;
  /** When what is wanted changes next. */
  private stepAt = Infinity;
  private wanted = 0;
  private firm = 0;
  /** Of them, those that are up, and when that changes next. */
  private firmUp = 0;
  private firmStep = 0;
  private firmUpAt = Infinity;
  private diskMs = ZERO;
  private shortSince = ZERO;
  private fanPoint = 0;
  /** All trials begin with the same machines. */
  private readonly first: readonly number[];

  constructor(
    private readonly mix: CompiledMix,
    private readonly fan: Fan | null,
  ) {
    const [wanted = 0] = mix.stepUnits;
    this.first = firstPlaces(mix, wanted - Math.min(mix.firm, wanted));
    this.held = new TrialState(mix);
    this.placing = new Placing(mix, this.held.pools);
    this.refill = new Refill(mix, this.held, this.placing);
  }

  get evictions(): number {
    return this.held.evictions;
  }

  /** Mean minutes from an eviction to its replacement; NaN: nothing was replaced. */
  get refillMinutes(): number {
    const { replaced, replacedMs } = this.held.replacements;
    return replaced === 0 ? Number.NaN : replacedMs / replaced / MINUTE_MS;
  }

  /** What all of it would cost at the firm price. */
  get allFirmCost(): number {
    return (wantedUnitMs(this.mix) * this.mix.firmPrice) / HOUR_MS;
  }

  run(trial: Key): void {
    this.begin(trial);
    const { horizonMs } = this.mix;
    const { held, refill } = this;
    for (;;) {
      // Compared by hand: this is the innermost line of all, and the minimum of three costs as much as an event.
      let next = held.nextAt();
      if (this.stepAt < next) next = this.stepAt;
      if (this.firmUpAt < next) next = this.firmUpAt;
      const refillAt = refill.nextAt();
      if (refillAt < next) next = refillAt;
      if (next >= horizonMs) break;
      this.passUntil(next);
      if (held.poolsAt === next) this.changePools();
      held.becomeReady();
      while (this.firmUpAt === next) this.takeFirm(this.firmStep + 1);
      if (this.stepAt === next) this.changeWanted();
      refill.act();
    }
    this.passUntil(horizonMs);
    this.end();
  }

  private begin(trial: Key): void {
    const { held } = this;
    held.begin(trial);
    this.refill.isStale = true;
    this.step = 0;
    this.missingUnitMs = 0;
    this.fallbackUnitMs = 0;
    this.longestShortMs = 0;
    this.belowFloorMs = 0;
    this.diskMs = 0;
    this.shortSince = NONE;
    this.fanPoint = 0;
    this.takeWanted();
    this.takeFirm(0);
    for (const k of this.first) held.placeFirst(held.pools[k] as PoolClock);
    const missing = this.wanted - this.firm - held.upUnits;
    if (missing > 0) held.addGap(missing, NONE, false);
    this.refill.act();
  }

  private end(): void {
    const { firmPrice, diskPrice } = this.mix;
    let spot = 0;
    for (const pool of this.held.pools) {
      pool.bill(0, this.held.now);
      spot += pool.cost;
    }
    const firm = (this.mix.firmUnitMs + this.fallbackUnitMs) * firmPrice;
    this.cost = (spot + firm + this.diskMs * diskPrice) / HOUR_MS;
    if (this.shortSince !== NONE) this.longestShortMs = Math.max(this.longestShortMs, this.held.now - this.shortSince);
  }

  /** Adds up what stands from now until then, an instant no event lies before. */
  private passUntil(then: number): void {
    const { held } = this;
    const length = then - held.now;
    if (length > 0) {
      const capacity = this.firmUp + held.upUnits + held.fallbacks.upUnits;
      if (capacity < this.wanted) {
        this.missingUnitMs += (this.wanted - capacity) * length;
        if (this.shortSince === NONE) this.shortSince = this.held.now;
      } else if (this.shortSince !== NONE) {
        this.longestShortMs = Math.max(this.longestShortMs, this.held.now - this.shortSince);
        this.shortSince = NONE;
      }
      if (capacity < this.mix.floor) this.belowFloorMs += length;
      if (held.fallbacks.billedUnits > 0) this.fallbackUnitMs += held.fallbacks.billedUnits * length;
      if (this.mix.keepsDisks) this.diskMs += held.disks * length;
      if (this.fan) this.draw(this.fan, capacity, then);
    }
    this.held.now = then;
  }

  private draw(fan: Fan, capacity: number, then: number): void {
    const bin = Math.floor(capacity / fan.unitsPerBin);
    for (; this.fanPoint < fan.points && this.fanPoint * fan.everyMs < then; this.fanPoint++) {
      const at = this.fanPoint * fan.bins + bin;
      fan.counts[at] = (fan.counts[at] as number) + 1;
    }
  }

  private changePools(): void {
    const { held } = this;
    // What one pool loses has no part in the price or the spells of another.
    while (held.poolsAt <= held.now) {
      const pool = held.pools[held.nextPool] as PoolClock;
      this.changePool(pool);
      held.wasChanged(pool);
    }
  }

  private changePool(pool: PoolClock): void {
    const { held } = this;
    const { now } = held;
    if (pool.priceAt === now) {
      if (pool.changePrice(now)) this.refill.isStale = true;
      this.placing.weigh(this.wanted - this.firm);
      if (pool.isOver) held.evict(pool, false);
    }
    while (pool.spellAt === now) {
      pool.changeSpell(now);
      this.refill.isStale = true;
    }
    while (pool.reclaimAt === now) {
      held.evict(pool, true);
      pool.nextReclaim(now);
    }
    while (pool.evictAt <= now) {
      const machine = pool.takeEvicted(now, held.machines.all);
      if (machine) held.evictOne(machine);
    }
  }

  private takeWanted(): void {
    const { stepAt, stepUnits } = this.mix;
    this.wanted = stepUnits[this.step] as number;
    this.stepAt = this.step + 1 < stepAt.length ? (stepAt[this.step + 1] as number) : Infinity;
    this.firm = Math.min(this.mix.firm, this.wanted);
    this.placing.weigh(this.wanted - this.firm);
  }

  private takeFirm(step: number): void {
    const { firmAt, firmUnits } = this.mix;
    this.firmStep = step;
    this.firmUp = firmUnits[step] as number;
    this.firmUpAt = step + 1 < firmAt.length ? (firmAt[step + 1] as number) : Infinity;
  }

  private changeWanted(): void {
    const before = this.wanted - this.firm;
    this.step++;
    this.takeWanted();
    const rise = this.wanted - this.firm - before;
    if (rise > 0) this.held.addGap(rise, NONE, false);
    else if (rise < 0) callOff(this.held, this.placing, -rise);
    this.refill.isStale = true;
  }
}

/** Unit-milliseconds that are wanted over the horizon. */
function wantedUnitMs({ stepAt, stepUnits, horizonMs }: CompiledMix): number {
  let unitMs = 0;
  for (let i = 0; i < stepAt.length; i++) {
    const to = Math.min(horizonMs, stepAt[i + 1] ?? horizonMs);
    unitMs += Math.max(0, to - (stepAt[i] as number)) * (stepUnits[i] as number);
  }
  return unitMs;
}
