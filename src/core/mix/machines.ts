import type { PoolClock } from "./pool-clock";
import type { Link } from "./replacements";

/** What a machine is doing: `provisioned` is not billed and cannot be evicted, `setUp` is billed, `up` is capacity. */
export const FREE = 0;
export const PROVISIONED = 1;
export const SET_UP = 2;
export const UP = 3;

/** A spot machine of a trial: one object for one after another, since objects are cheap to keep and dear to make. */
export class Machine {
  state = FREE;
  /** Grows when the machine goes: who still waits for an earlier one under this id can tell. */
  life = 0;
  /** Its number in its pool: whose draws it has. */
  number = 0;
  /** The hazard of its pool at which it is evicted; NaN: it has none to fear. */
  fate = Number.NaN;
  /** The first of what it makes good. */
  link: Link | null = null;
  /** It is a restart from a kept disk. */
  isRestart = false;
  /** The next older and younger of its pool; of free ones, `younger` is the next free. */
  older: Machine | null = null;
  younger: Machine | null = null;

  constructor(
    readonly id: number,
    public pool: PoolClock,
  ) {}
}

/**
 * Those of one pool in the order in which they were ordered. Each is provisioned for as long as the others, so those
 * that are still are the youngest.
 */
class MachineList {
  oldest: Machine | null = null;
  youngest: Machine | null = null;
  settingUp = 0;
}

/** The spot machines of a trial. */
export class Machines {
  /** By id. */
  readonly all: readonly Machine[];
  private readonly lists: readonly MachineList[];
  private free: Machine | null = null;

  constructor(most: number, pools: readonly PoolClock[]) {
    const [first] = pools;
    this.all = first ? Array.from({ length: most }, (_, id) => new Machine(id, first)) : [];
    this.lists = pools.map(() => new MachineList());
    this.clear();
  }

  clear(): void {
    for (const list of this.lists) {
      list.oldest = null;
      list.youngest = null;
      list.settingUp = 0;
    }
    this.free = null;
    for (let id = this.all.length - 1; id >= 0; id--) {
      const machine = this.all[id] as Machine;
      machine.state = FREE;
      machine.fate = Number.NaN;
      machine.younger = this.free;
      this.free = machine;
    }
  }

  /** A machine of a pool, the next by its number; there is always one, since spot units never exceed what is wanted. */
  take(pool: PoolClock, state: number): Machine {
    const machine = this.free as Machine;
    this.free = machine.younger;
    machine.pool = pool;
    machine.number = pool.numbers++;
    machine.link = null;
    machine.isRestart = false;
    machine.state = state;
    const list = this.lists[pool.index] as MachineList;
    machine.older = list.youngest;
    machine.younger = null;
    if (list.youngest === null) list.oldest = machine;
    else list.youngest.younger = machine;
    list.youngest = machine;
    return machine;
  }

  /** On to the next state: set up, then up. */
  move(machine: Machine, state: number): void {
    (this.lists[machine.pool.index] as MachineList).settingUp += state === SET_UP ? 1 : -1;
    machine.state = state;
  }

  /** The machine is gone. */
  release(machine: Machine): void {
    const list = this.lists[machine.pool.index] as MachineList;
    const { older, younger } = machine;
    if (older === null) list.oldest = younger;
    else older.younger = younger;
    if (younger === null) list.youngest = older;
    else younger.older = older;
    if (machine.state === SET_UP) list.settingUp--;
    machine.state = FREE;
    machine.life++;
    machine.fate = Number.NaN;
    machine.younger = this.free;
    this.free = machine;
  }

  oldest(pool: PoolClock): Machine | null {
    return (this.lists[pool.index] as MachineList).oldest;
  }

  /** The one to give up first: the youngest being provisioned, then in set-up, then up; null: there is none. */
  toGiveUp(pool: PoolClock): Machine | null {
    const { youngest, settingUp } = this.lists[pool.index] as MachineList;
    let machine = youngest;
    // Restarts are up without any set-up, and younger than what is set up.
    if (settingUp > 0) while (machine?.state === UP) machine = machine.older;
    return machine;
  }
}
