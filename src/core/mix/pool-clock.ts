import { type CompiledPool, HOUR_MS, ZERO } from "./compiled";
import { draw, drawExponential, type Key, under } from "./draws";
import { Fates } from "./fates";
import { drawHours, drawRate, drawShare } from "./known";

/** What the draws of a pool are for. */
const RATE = 1;
const SPELLS = 2;
const RECLAIMS = 3;
const LIVES = 4;
const SPARED = 5;
const WAVES = 6;
const SHARE = 7;
const AVAILABLE = 8;
const DRY = 9;
const FACTOR = 10;

/** A machine that may be evicted: `fate` is the hazard of its pool at which it is. */
type Exposed = { readonly id: number; readonly number: number; fate: number };

/**
 * One pool over a trial: its price, its spells, its reclaim events, what of it is held and billed, and which of its
 * machines is evicted next. A machine lives until the hazard that it was exposed to has come to its own draw, so a dry
 * spell that raises the hazard moves them all without a new draw.
 */
export class PoolClock {
  price = ZERO;
  isOver = false;
  isDry = false;
  /** Since when machines can be had, without a break; Infinity: they cannot. */
  availableSince = ZERO;
  /** Machines being provisioned, set up or up; and those billed. */
  held = 0;
  billed = 0;
  /** Numbers given to its machines so far. */
  numbers = 0;
  cost = ZERO;
  priceAt = Infinity;
  spellAt = Infinity;
  reclaimAt = Infinity;
  evictAt = Infinity;
  /** When the next of these happens. */
  nextAt = Infinity;
  private priceHour = 0;
  private billedSince = ZERO;
  private hazardPerMs = ZERO;
  /** The most that it ever comes to. */
  private mostPerMs = ZERO;
  /** The same as things are: more while the pool is dry. */
  private ratePerMs = ZERO;
  /** The hazard that whoever is exposed since 0 has gone through, up to `hazardAt`. */
  private hazard = ZERO;
  private hazardAt = ZERO;
  /** How it goes in this trial, as far as it is known. */
  private reclaimPerMs = ZERO;
  private reclaimShare = ZERO;
  private availableMs = Infinity;
  private dryMs = ZERO;
  private dryFactor = 1;
  private spells = 0;
  private reclaims = 0;
  private spellKey: Key = NO_KEY;
  private reclaimKey: Key = NO_KEY;
  private lifeKey: Key = NO_KEY;
  private sparedKey: Key = NO_KEY;
  private readonly fates = new Fates();

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
    this.drawKnown(key, under(trial, pool.sizeWord));
    this.mostPerMs = this.hazardPerMs * Math.max(1, this.dryFactor);
    this.hazard = 0;
    this.hazardAt = 0;
    this.fates.clear();
    this.held = 0;
    this.billed = 0;
    this.billedSince = 0;
    this.numbers = 0;
    this.cost = 0;
    this.spells = 0;
    this.reclaims = 0;
    this.priceHour = 0;
    this.takePrice(0);
    const { availableMs, dryMs } = this;
    const { a, b } = this.spellKey;
    // In the long run dry for D / (A + D) of the time; a spell that is under way lasts as long as a new one.
    this.isDry = dryMs === Infinity || (availableMs !== Infinity && draw(a, b, this.spells++) < dryMs / (availableMs + dryMs));
    this.ratePerMs = this.rateNow();
    this.nextSpell(0);
    this.nextReclaim(0);
    this.availableSince = this.isDry || this.isOver ? Infinity : 0;
    this.refresh();
  }

  /** Once per trial: what was learned of its size, and its own spells. */
  private drawKnown(own: Key, ofSize: Key): void {
    const { pool } = this;
    this.hazardPerMs = drawRate(under(ofSize, RATE), pool.hazard ?? 0) / HOUR_MS;
    this.reclaimPerMs = drawRate(under(ofSize, WAVES), pool.reclaimRate) / HOUR_MS;
    this.reclaimShare = drawShare(under(ofSize, SHARE), pool.reclaimShare);
    this.dryFactor = drawRate(under(ofSize, FACTOR), pool.dryHazardFactor);
    this.availableMs = drawHours(under(own, AVAILABLE), pool.availableHours) * HOUR_MS;
    this.dryMs = drawHours(under(own, DRY), pool.dryHours) * HOUR_MS;
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
    const mean = this.isDry ? this.dryMs : this.availableMs;
    if (mean === Infinity) this.spellAt = Infinity;
    else this.spellAt = at + Math.round(drawExponential(this.spellKey.a, this.spellKey.b, this.spells++) * mean);
  }

  private setAvailable(at: number): void {
    if (this.isDry || this.isOver) this.availableSince = Infinity;
    else if (this.availableSince === Infinity) this.availableSince = at;
  }

  nextReclaim(at: number): void {
    const rate = this.reclaimPerMs;
    this.reclaims++;
    if (rate === 0) this.reclaimAt = Infinity;
    else this.reclaimAt = at + Math.round(drawExponential(this.reclaimKey.a, this.reclaimKey.b, this.reclaims) / rate);
    this.look();
  }

  /** Whether the reclaim event that is on takes the machine of that number. */
  isReclaimed(number: number): boolean {
    const { a, b } = this.sparedKey;
    return draw(a + number, b, this.reclaims) < this.reclaimShare;
  }

  /** A machine is exposed from now on. */
  expose(machine: Exposed, at: number): void {
    if (this.hazardPerMs === 0) return;
    this.exposeUntil(at);
    const fate = this.hazard + drawExponential(this.lifeKey.a, this.lifeKey.b, machine.number);
    // Outlives the horizon whatever comes.
    if (fate > this.hazard + this.mostPerMs * (this.horizonMs - at)) return;
    machine.fate = fate;
    this.fates.push(fate, machine.id);
    if (this.fates.hazard === fate) this.refresh();
  }

  /** Of all, by id, one that is evicted at this instant; null: none any more. */
  takeEvicted<One extends Exposed>(at: number, all: readonly One[]): One | null {
    const { fates } = this;
    while (this.evictAt <= at) {
      const { hazard } = fates;
      const machine = all[fates.id] as One;
      fates.pop();
      this.refresh();
      if (machine.fate === hazard) return machine;
    }
    return null;
  }

  private exposeUntil(at: number): void {
    this.hazard += (at - this.hazardAt) * this.ratePerMs;
    this.hazardAt = at;
  }

  private rateNow(): number {
    return this.isDry ? this.hazardPerMs * this.dryFactor : this.hazardPerMs;
  }

  private refresh(): void {
    if (this.fates.size === 0 || this.ratePerMs === 0) this.evictAt = Infinity;
    else this.evictAt = this.hazardAt + Math.round(Math.max(0, this.fates.hazard - this.hazard) / this.ratePerMs);
    this.look();
  }

  private look(): void {
    let next = this.evictAt;
    if (this.priceAt < next) next = this.priceAt;
    if (this.spellAt < next) next = this.spellAt;
    if (this.reclaimAt < next) next = this.reclaimAt;
    this.nextAt = next;
  }
}

const NO_KEY: Key = { a: 0, b: 0 };
