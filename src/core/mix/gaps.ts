const NONE = -1;

/** Units that went missing at one time: an eviction, a rise of what is wanted, or a fall that took more than it should. */
export class Gap {
  since = Infinity;
  /** Units that nothing has been ordered for; 0: made good, and on no list any more. */
  units = 0;
  /** The pool whose kept disk waits; -1: any pool will do. */
  pool = NONE;
  isEviction = false;
  /** Units that are not up again. */
  openUnits = 0;
  older: Gap | null = null;
  younger: Gap | null = null;
}

/** What is missing and waited for, the oldest first. */
export class Gaps {
  /** All of the trial, waited for or not: whoever makes one good still asks it since when it was. */
  private readonly all: Gap[] = [];
  private used = 0;
  oldest: Gap | null = null;
  youngest: Gap | null = null;
  /** Units that any pool may give. */
  freeUnits = 0;
  /** Kept disks that wait. */
  disks = 0;

  clear(): void {
    this.used = 0;
    this.oldest = null;
    this.youngest = null;
    this.freeUnits = 0;
    this.disks = 0;
  }

  add(since: number, units: number, pool: number, isEviction: boolean): void {
    if (this.used === this.all.length) this.all.push(new Gap());
    const gap = this.all[this.used++] as Gap;
    gap.since = since;
    gap.units = units;
    gap.pool = pool;
    gap.isEviction = isEviction;
    gap.openUnits = units;
    gap.older = this.youngest;
    gap.younger = null;
    if (this.youngest === null) this.oldest = gap;
    else this.youngest.younger = gap;
    this.youngest = gap;
    if (pool < 0) this.freeUnits += units;
    else this.disks++;
  }

  /** Takes units off a gap, all of them where its disk waits. */
  take(gap: Gap, units: number): void {
    if (gap.pool < 0) {
      gap.units -= units;
      this.freeUnits -= units;
    } else {
      gap.units = 0;
      this.disks--;
    }
    if (gap.units === 0) this.remove(gap);
  }

  private remove({ older, younger }: Gap): void {
    if (older === null) this.oldest = younger;
    else older.younger = younger;
    if (younger === null) this.youngest = older;
    else younger.older = older;
  }
}
