import type { Gap } from "./gaps";
import { PROVISIONED, SET_UP, UP } from "./machines";

const NONE = -1;

/** Firm units ordered at one time in place of what could not be had. */
export class Block {
  state = PROVISIONED;
  /** Grows when the last unit goes: who still waits for an earlier block in this object can tell. */
  life = 0;
  units = 0;
  /** Of these, units that a spot machine on its way will take over. */
  returning = 0;
  /** The pool whose kept disk waits meanwhile; -1: none. */
  pool = NONE;
  /** What it stands in for; null: no eviction. */
  gap: Gap | null = null;
  older: Block | null = null;
  younger: Block | null = null;
}

/** The blocks of a trial, the youngest last. */
export class Fallbacks {
  private readonly all: Block[] = [];
  private used = 0;
  private free: Block | null = null;
  oldest: Block | null = null;
  youngest: Block | null = null;
  /** Units that are capacity, units that are billed, and those that nothing is on its way for. */
  upUnits = 0;
  billedUnits = 0;
  waitingUnits = 0;
  /** Blocks whose kept disk waits. */
  disks = 0;

  clear(): void {
    this.used = 0;
    this.free = null;
    this.oldest = null;
    this.youngest = null;
    this.upUnits = 0;
    this.billedUnits = 0;
    this.waitingUnits = 0;
    this.disks = 0;
  }

  order(units: number, pool: number, gap: Gap | null): Block {
    const block = this.take();
    block.state = PROVISIONED;
    block.units = units;
    block.returning = 0;
    block.pool = pool;
    block.gap = gap;
    block.older = this.youngest;
    block.younger = null;
    if (this.youngest === null) this.oldest = block;
    else this.youngest.younger = block;
    this.youngest = block;
    this.waitingUnits += units;
    if (pool >= 0) this.disks++;
    return block;
  }

  private take(): Block {
    const block = this.free;
    if (block === null) {
      if (this.used === this.all.length) this.all.push(new Block());
      return this.all[this.used++] as Block;
    }
    this.free = block.younger;
    return block;
  }

  /** On to the next state: set up, then up. */
  move(block: Block, state: number): void {
    if (block.state === PROVISIONED) this.billedUnits += block.units;
    if (state === UP) this.upUnits += block.units;
    block.state = state;
  }

  /** A spot machine is on its way for some of the units, or (negative) is not any more. */
  promise(block: Block, units: number): void {
    block.returning += units;
    this.waitingUnits -= units;
  }

  /** Units go: of those that something is on its way for, or of the others. The last takes the block with it. */
  drop(block: Block, units: number, isReturn: boolean): void {
    block.units -= units;
    if (isReturn) block.returning -= units;
    else this.waitingUnits -= units;
    if (block.state === UP) this.upUnits -= units;
    if (block.state === UP || block.state === SET_UP) this.billedUnits -= units;
    if (block.units === 0) this.remove(block);
  }

  /** The disk that waited is restarted, or given up. */
  dropDisk(block: Block): void {
    if (block.pool >= 0) this.disks--;
    block.pool = NONE;
  }

  private remove(block: Block): void {
    this.dropDisk(block);
    const { older, younger } = block;
    if (older === null) this.oldest = younger;
    else older.younger = younger;
    if (younger === null) this.youngest = older;
    else younger.older = older;
    block.life++;
    block.younger = this.free;
    this.free = block;
  }
}
