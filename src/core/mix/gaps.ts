/** Units that are missing and waited for, the oldest first. */
export class Gaps {
  /** When the gap began: an eviction, a rise, a fall that took more than it should. */
  since = new Float64Array(64);
  /** Units that nothing has been ordered for; 0: made good. */
  units = new Int32Array(64);
  /** The pool whose kept disk waits; -1: any pool will do. */
  pool = new Int32Array(64);
  /** The eviction it comes from; -1: none. */
  eviction = new Int32Array(64);
  head = 0;
  tail = 0;
  /** Units that any pool may give. */
  freeUnits = 0;
  /** Kept disks that wait. */
  disks = 0;

  clear(): void {
    this.head = 0;
    this.tail = 0;
    this.freeUnits = 0;
    this.disks = 0;
  }

  add(since: number, units: number, pool: number, eviction: number): void {
    if (this.tail === this.since.length) this.makeRoom();
    this.since[this.tail] = since;
    this.units[this.tail] = units;
    this.pool[this.tail] = pool;
    this.eviction[this.tail] = eviction;
    this.tail++;
    if (pool < 0) this.freeUnits += units;
    else this.disks++;
  }

  /** Takes units off a gap, all of them where its disk waits. */
  take(gap: number, units: number): void {
    if ((this.pool[gap] as number) < 0) {
      this.units[gap] = (this.units[gap] as number) - units;
      this.freeUnits -= units;
    } else {
      this.units[gap] = 0;
      this.disks--;
    }
    while (this.head < this.tail && this.units[this.head] === 0) this.head++;
    while (this.tail > this.head && this.units[this.tail - 1] === 0) this.tail--;
    if (this.head === this.tail) {
      this.head = 0;
      this.tail = 0;
    }
  }

  get isEmpty(): boolean {
    return this.head === this.tail;
  }

  private makeRoom(): void {
    const count = this.tail - this.head;
    const isTight = count > this.since.length / 2;
    const size = isTight ? this.since.length * 2 : this.since.length;
    const moved = <A extends Float64Array | Int32Array>(to: A, from: A): A => {
      to.set(from.subarray(this.head, this.tail));
      return to;
    };
    this.since = moved(isTight ? new Float64Array(size) : this.since, this.since);
    this.units = moved(isTight ? new Int32Array(size) : this.units, this.units);
    this.pool = moved(isTight ? new Int32Array(size) : this.pool, this.pool);
    this.eviction = moved(isTight ? new Int32Array(size) : this.eviction, this.eviction);
    this.head = 0;
    this.tail = count;
  }
}
