const NONE = -1;

/** What the machines that are on their way make good: units of evictions, and of firm units that stand in. */
export class Replacements {
  private evictedAt = new Float64Array(64);
  private openUnits = new Int32Array(64);
  private evictions = 0;
  /** Links of a machine's list: an eviction from 0, a block of firm units below -1. */
  private target = new Int32Array(64);
  private linkUnits = new Int32Array(64);
  private next = new Int32Array(64);
  private links = 0;
  private free = NONE;
  /** Over the evictions whose replacement came up: how many, and how long it took in all, in milliseconds. */
  replaced = 0;
  replacedMs = 0;

  clear(): void {
    this.evictions = 0;
    this.links = 0;
    this.free = NONE;
    this.replaced = 0;
    this.replacedMs = 0;
  }

  evicted(at: number, units: number): number {
    if (this.evictions === this.evictedAt.length) {
      const evictedAt = new Float64Array(this.evictions * 2);
      evictedAt.set(this.evictedAt);
      this.evictedAt = evictedAt;
      this.openUnits = grown(this.openUnits);
    }
    this.evictedAt[this.evictions] = at;
    this.openUnits[this.evictions] = units;
    return this.evictions++;
  }

  /** Units of an eviction are up again. */
  cameUp(eviction: number, units: number, at: number): void {
    if (eviction < 0) return;
    const open = (this.openUnits[eviction] as number) - units;
    this.openUnits[eviction] = open;
    if (open > 0) return;
    this.replaced++;
    this.replacedMs += at - (this.evictedAt[eviction] as number);
  }

  /** A link in front of a list: the new first one. */
  link(first: number, target: number, units: number): number {
    let l = this.free;
    if (l === NONE) {
      if (this.links === this.target.length) {
        this.target = grown(this.target);
        this.linkUnits = grown(this.linkUnits);
        this.next = grown(this.next);
      }
      l = this.links++;
    } else this.free = this.next[l] as number;
    this.target[l] = target;
    this.linkUnits[l] = units;
    this.next[l] = first;
    return l;
  }

  targetOf(l: number): number {
    return this.target[l] as number;
  }

  unitsOf(l: number): number {
    return this.linkUnits[l] as number;
  }

  /** The next of a list, the one before it being given back. */
  takeNext(l: number): number {
    const next = this.next[l] as number;
    this.next[l] = this.free;
    this.free = l;
    return next;
  }
}

function grown(from: Int32Array): Int32Array<ArrayBuffer> {
  const to = new Int32Array(from.length * 2);
  to.set(from);
  return to;
}
