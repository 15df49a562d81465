import { PROVISIONED, SET_UP, UP } from "./machines";

const NONE = -1;

/** Firm units ordered in place of what could not be had, the youngest last. */
export class Fallbacks {
  units = new Int32Array(16);
  /** Of these, units that a spot machine on its way will take over. */
  returning = new Int32Array(16);
  /** The pool whose kept disk waits meanwhile; -1: none. */
  pool = new Int32Array(16);
  eviction = new Int32Array(16);
  state = new Uint8Array(16);
  life = new Uint32Array(16);
  private before = new Int32Array(16);
  private after = new Int32Array(16);
  private count = 0;
  private free = NONE;
  oldest = NONE;
  youngest = NONE;
  /** Units that are capacity, units that are billed, and those that nothing is on its way for. */
  upUnits = 0;
  billedUnits = 0;
  waitingUnits = 0;
  /** Blocks whose kept disk waits. */
  disks = 0;

  clear(): void {
    this.count = 0;
    this.free = NONE;
    this.oldest = NONE;
    this.youngest = NONE;
    this.upUnits = 0;
    this.billedUnits = 0;
    this.waitingUnits = 0;
    this.disks = 0;
  }

  order(units: number, pool: number, eviction: number): number {
    let f = this.free;
    if (f === NONE) {
      if (this.count === this.units.length) this.makeRoom();
      f = this.count++;
    } else this.free = this.after[f] as number;
    this.units[f] = units;
    this.returning[f] = 0;
    this.pool[f] = pool;
    this.eviction[f] = eviction;
    this.state[f] = PROVISIONED;
    this.before[f] = this.youngest;
    this.after[f] = NONE;
    if (this.youngest === NONE) this.oldest = f;
    else this.after[this.youngest] = f;
    this.youngest = f;
    this.waitingUnits += units;
    if (pool >= 0) this.disks++;
    return f;
  }

  /** On to the next state: set up, then up. */
  move(f: number, state: number): void {
    const units = this.units[f] as number;
    if (this.state[f] === PROVISIONED) this.billedUnits += units;
    if (state === UP) this.upUnits += units;
    this.state[f] = state;
  }

  /** A spot machine is on its way for some of the units, or (negative) is not any more. */
  promise(f: number, units: number): void {
    this.returning[f] = (this.returning[f] as number) + units;
    this.waitingUnits -= units;
  }

  /** Units go: of those that something is on its way for, or of the others. The last takes the block with it. */
  drop(f: number, units: number, isReturn: boolean): void {
    const state = this.state[f] as number;
    this.units[f] = (this.units[f] as number) - units;
    if (isReturn) this.returning[f] = (this.returning[f] as number) - units;
    else this.waitingUnits -= units;
    if (state === UP) this.upUnits -= units;
    if (state === UP || state === SET_UP) this.billedUnits -= units;
    if (this.units[f] === 0) this.remove(f);
  }

  /** The disk that waited is restarted, or given up. */
  dropDisk(f: number): void {
    if ((this.pool[f] as number) >= 0) this.disks--;
    this.pool[f] = NONE;
  }

  younger(f: number): number {
    return this.after[f] as number;
  }

  older(f: number): number {
    return this.before[f] as number;
  }

  private remove(f: number): void {
    this.dropDisk(f);
    const [before, after] = [this.before[f] as number, this.after[f] as number];
    if (before === NONE) this.oldest = after;
    else this.after[before] = after;
    if (after === NONE) this.youngest = before;
    else this.before[after] = before;
    this.life[f] = (this.life[f] as number) + 1;
    this.after[f] = this.free;
    this.free = f;
  }

  private makeRoom(): void {
    const grown = (from: Int32Array) => {
      const to = new Int32Array(from.length * 2);
      to.set(from);
      return to;
    };
    const state = new Uint8Array(this.state.length * 2);
    state.set(this.state);
    const life = new Uint32Array(this.life.length * 2);
    life.set(this.life);
    this.units = grown(this.units);
    this.returning = grown(this.returning);
    this.pool = grown(this.pool);
    this.eviction = grown(this.eviction);
    this.before = grown(this.before);
    this.after = grown(this.after);
    this.state = state;
    this.life = life;
  }
}
