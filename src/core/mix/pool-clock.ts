import type { CompiledPool } from "./compiled";
import { HOUR_MS } from "./compiled";
import { draw, drawExponential, drawGamma, type Key, under } from "./draws";

/** What the draws of a pool are for. */
const RATE = 1;
const SPELLS = 2;
const RECLAIMS = 3;
const LIVES = 4;
const SPARED = 5;

/**
 * One pool over a trial: its price, its spells, its reclaim events, what of it is held and billed, and which of its
 * machines is evicted next. A machine lives until the hazard that it was exposed to has come to its own draw, so a dry
 * spell that raises the hazard moves them all without a new draw.
 */
export class PoolClock {
  price = 0;
  isOver = false;
  isDry = false;
  /** Since when machines can be had, without a break; Infinity: they cannot. */
  availableSince = 0;
  /** Machines being provisioned, set up or up; and those billed. */
  held = 0;
  billed = 0;
  /** Numbers given to its machines so far. */
  numbers = 0;
  cost = 0;
  priceAt = Infinity;
  spellAt = Infinity;
  reclaimAt = Infinity;
  evictAt = Infinity;
  /** When the next of these happens. */
  nextAt = Infinity;
  private priceHour = 0;
  private billedSince = 0;
  private hazardPerMs = 0;
  /** The same as things are: more while the pool is dry. */
  private ratePerMs = 0;
  /** The hazard that whoever is exposed since 0 has gone through, up to `hazardAt`. */
  private hazard = 0;
  private hazardAt = 0;
  private spells = 0;
  private reclaims = 0;
  private spellKey: Key = NO_KEY;
  private reclaimKey: Key = NO_KEY;
  private lifeKey: Key = NO_KEY;
  private sparedKey: Key = NO_KEY;
  /** A heap of those that will be evicted: at what hazard, which, and which life of it. */
  private heapHazard = new Float64Array(16);
  private heapWhat = new Int32Array(16);
  private heapLife = new Uint32Array(16);
  private heapSize = 0;

  /** Units of one of its machines. */
  readonly units: number;
  readonly orderHazard: number;

  constructor(
    private readonly pool: CompiledPool,
    readonly index: number,
    private readonly horizonMs: number,
  ) {
    this.units = pool.units;
    this.orderHazard = pool.orderHazard;
    this.takePrice(0);
  }

  begin(trial: Key): void {
    const { pool } = this;
    const key = under(trial, pool.word);
    this.spellKey = under(key, SPELLS);
    this.reclaimKey = under(key, RECLAIMS);
    this.lifeKey = under(key, LIVES);
    this.sparedKey = under(key, SPARED);
    const { hazard } = pool;
    const perHour =
      hazard === null ? 0 : typeof hazard === "number" ? hazard : drawGamma(under(key, RATE), hazard.shape) / hazard.rate;
    this.hazardPerMs = perHour / HOUR_MS;
    this.hazard = 0;
    this.hazardAt = 0;
    this.heapSize = 0;
    this.held = 0;
    this.billed = 0;
    this.billedSince = 0;
    this.numbers = 0;
    this.cost = 0;
    this.spells = 0;
    this.reclaims = 0;
    this.priceHour = 0;
    this.takePrice(0);
    const { availableMs, dryMs } = pool;
    const { a, b } = this.spellKey;
    // In the long run dry for D / (A + D) of the time; a spell that is under way lasts as long as a new one.
    this.isDry = dryMs === Infinity || (availableMs !== Infinity && draw(a, b, this.spells++) < dryMs / (availableMs + dryMs));
    this.ratePerMs = this.rateNow();
    this.nextSpell(0);
    this.nextReclaim(0);
    this.availableSince = this.isDry || this.isOver ? Infinity : 0;
    this.refresh();
  }

  bill(count: number, at: number): void {
    this.cost += this.billed * (at - this.billedSince) * this.price;
    this.billedSince = at;
    this.billed += count;
  }

  /** The price of the hour that begins; true when the pool went over its cap or came back under it. */
  changePrice(at: number): boolean {
    this.bill(0, at);
    const wasOver = this.isOver;
    this.takePrice(at);
    this.setAvailable(at);
    this.look();
    return wasOver !== this.isOver;
  }

  private takePrice(at: number): void {
    const { prices, untilOther, cap } = this.pool;
    const hour = this.priceHour;
    this.price = prices[hour] as number;
    this.isOver = this.price > cap;
    const until = untilOther[hour] as number;
    this.priceAt = until === 0 ? Infinity : at + until * HOUR_MS;
    this.priceHour = (hour + until) % prices.length;
  }

  /** From available to dry, or back. */
  changeSpell(at: number): void {
    this.exposeUntil(at);
    this.isDry = !this.isDry;
    this.ratePerMs = this.rateNow();
    this.nextSpell(at);
    this.setAvailable(at);
    this.refresh();
  }

  private nextSpell(at: number): void {
    const mean = this.isDry ? this.pool.dryMs : this.pool.availableMs;
    if (mean === Infinity) this.spellAt = Infinity;
    else this.spellAt = at + Math.round(drawExponential(this.spellKey.a, this.spellKey.b, this.spells++) * mean);
  }

  private setAvailable(at: number): void {
    if (this.isDry || this.isOver) this.availableSince = Infinity;
    else if (this.availableSince === Infinity) this.availableSince = at;
  }

  nextReclaim(at: number): void {
    const rate = this.pool.reclaimPerMs;
    this.reclaims++;
    if (rate === 0) this.reclaimAt = Infinity;
    else this.reclaimAt = at + Math.round(drawExponential(this.reclaimKey.a, this.reclaimKey.b, this.reclaims) / rate);
    this.look();
  }

  /** Whether the reclaim event that is on takes the machine of that number. */
  isReclaimed(number: number): boolean {
    const { a, b } = this.sparedKey;
    return draw(a + number, b, this.reclaims) < this.pool.reclaimShare;
  }

  /** A machine is exposed from now on. */
  expose({ id, life, number }: Readonly<{ id: number; life: number; number: number }>, at: number): void {
    if (this.hazardPerMs === 0) return;
    this.exposeUntil(at);
    const until = this.hazard + drawExponential(this.lifeKey.a, this.lifeKey.b, number);
    const most = this.hazardPerMs * Math.max(1, this.pool.dryHazardFactor) * (this.horizonMs - at);
    // Outlives the horizon whatever comes.
    if (until > this.hazard + most) return;
    this.push(until, id, life);
    if (this.heapWhat[0] === id) this.refresh();
  }

  /** The machine that is evicted at this instant, which then leaves the heap; -1: none any more. */
  takeEvicted(at: number, all: readonly Readonly<{ life: number }>[]): number {
    while (this.heapSize > 0 && this.evictAt <= at) {
      const machine = this.heapWhat[0] as number;
      const life = this.heapLife[0] as number;
      this.pop();
      this.refresh();
      if (all[machine]?.life === life) return machine;
    }
    return -1;
  }

  private exposeUntil(at: number): void {
    this.hazard += (at - this.hazardAt) * this.ratePerMs;
    this.hazardAt = at;
  }

  private rateNow(): number {
    return this.isDry ? this.hazardPerMs * this.pool.dryHazardFactor : this.hazardPerMs;
  }

  private refresh(): void {
    if (this.heapSize === 0 || this.ratePerMs === 0) this.evictAt = Infinity;
    else this.evictAt = this.hazardAt + Math.round(Math.max(0, (this.heapHazard[0] as number) - this.hazard) / this.ratePerMs);
    this.look();
  }

  private look(): void {
    let next = this.evictAt;
    if (this.priceAt < next) next = this.priceAt;
    if (this.spellAt < next) next = this.spellAt;
    if (this.reclaimAt < next) next = this.reclaimAt;
    this.nextAt = next;
  }

  private push(hazard: number, what: number, life: number): void {
    if (this.heapSize === this.heapHazard.length) this.makeRoom();
    const hazards = this.heapHazard;
    const whats = this.heapWhat;
    const lives = this.heapLife;
    let i = this.heapSize++;
    while (i > 0) {
      const up = (i - 1) >> 1;
      if ((hazards[up] as number) <= hazard) break;
      hazards[i] = hazards[up] as number;
      whats[i] = whats[up] as number;
      lives[i] = lives[up] as number;
      i = up;
    }
    hazards[i] = hazard;
    whats[i] = what;
    lives[i] = life;
  }

  private pop(): void {
    const hazards = this.heapHazard;
    const whats = this.heapWhat;
    const lives = this.heapLife;
    const size = --this.heapSize;
    const hazard = hazards[size] as number;
    let i = 0;
    for (;;) {
      let down = 2 * i + 1;
      if (down >= size) break;
      if (down + 1 < size && (hazards[down + 1] as number) < (hazards[down] as number)) down++;
      if ((hazards[down] as number) >= hazard) break;
      hazards[i] = hazards[down] as number;
      whats[i] = whats[down] as number;
      lives[i] = lives[down] as number;
      i = down;
    }
    hazards[i] = hazard;
    whats[i] = whats[size] as number;
    lives[i] = lives[size] as number;
  }

  private makeRoom(): void {
    const size = this.heapHazard.length * 2;
    const [hazards, whats, lives] = [new Float64Array(size), new Int32Array(size), new Uint32Array(size)];
    hazards.set(this.heapHazard);
    whats.set(this.heapWhat);
    lives.set(this.heapLife);
    [this.heapHazard, this.heapWhat, this.heapLife] = [hazards, whats, lives];
  }
}

const NO_KEY: Key = { a: 0, b: 0 };
