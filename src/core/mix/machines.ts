/** What a machine is doing: `provisioned` is not billed and cannot be evicted, `setUp` is billed, `up` is capacity. */
export const FREE = 0;
export const PROVISIONED = 1;
export const SET_UP = 2;
export const UP = 3;

const STATES = 4;
const NONE = -1;

/** The spot machines of a trial, in one list per pool and state, the youngest last. */
export class Machines {
  readonly pool: Int32Array;
  readonly state: Uint8Array;
  /** Grows when the machine goes: who still waits for an earlier one under this number can tell. */
  readonly life: Uint32Array;
  /** Its number in its pool: whose draws it has. */
  readonly number: Int32Array;
  /** The first of what it makes good (see Links). */
  readonly link: Int32Array;
  /** 1 when it is a restart from a kept disk. */
  readonly isRestart: Uint8Array;
  private readonly before: Int32Array;
  private readonly after: Int32Array;
  private readonly first: Int32Array;
  private readonly last: Int32Array;
  private free = 0;

  constructor(most: number, pools: number) {
    this.pool = new Int32Array(most);
    this.state = new Uint8Array(most);
    this.life = new Uint32Array(most);
    this.number = new Int32Array(most);
    this.link = new Int32Array(most);
    this.isRestart = new Uint8Array(most);
    this.before = new Int32Array(most);
    this.after = new Int32Array(most);
    this.first = new Int32Array(pools * STATES);
    this.last = new Int32Array(pools * STATES);
    this.clear();
  }

  clear(): void {
    this.first.fill(NONE);
    this.last.fill(NONE);
    this.state.fill(FREE);
    for (let m = 0; m < this.after.length; m++) this.after[m] = m + 1;
    this.free = 0;
  }

  /** A machine of a pool; there is always one, since spot units never exceed what is wanted. */
  take(pool: number, number: number, state: number): number {
    const m = this.free;
    this.free = this.after[m] as number;
    this.pool[m] = pool;
    this.number[m] = number;
    this.link[m] = NONE;
    this.isRestart[m] = 0;
    this.append(m, state);
    return m;
  }

  /** The one setter of a machine's state. */
  move(m: number, state: number): void {
    this.unlink(m);
    if (state === FREE) {
      this.state[m] = FREE;
      this.life[m] = (this.life[m] as number) + 1;
      this.after[m] = this.free;
      this.free = m;
    } else this.append(m, state);
  }

  /** The oldest in a state; -1: none. */
  oldest(pool: number, state: number): number {
    return this.first[pool * STATES + state] as number;
  }

  /** The youngest in a state; -1: none. */
  youngest(pool: number, state: number): number {
    return this.last[pool * STATES + state] as number;
  }

  /** The next younger in the same list; -1: none. */
  younger(m: number): number {
    return this.after[m] as number;
  }

  private append(m: number, state: number): void {
    const list = (this.pool[m] as number) * STATES + state;
    const last = this.last[list] as number;
    this.state[m] = state;
    this.before[m] = last;
    this.after[m] = NONE;
    if (last === NONE) this.first[list] = m;
    else this.after[last] = m;
    this.last[list] = m;
  }

  private unlink(m: number): void {
    const list = (this.pool[m] as number) * STATES + (this.state[m] as number);
    const before = this.before[m] as number;
    const after = this.after[m] as number;
    if (before === NONE) this.first[list] = after;
    else this.after[before] = after;
    if (after === NONE) this.last[list] = before;
    else this.before[after] = before;
  }
}
