import { ZERO } from "./compiled";
import type { Block } from "./fallbacks";
import type { Gap } from "./gaps";

/** Units that a machine makes good once it is up: of an eviction, or of firm ones that stand in. */
export class Link {
  units = 0;
  gap: Gap | null = null;
  block: Block | null = null;
  /** The next of the same machine; of free ones, the next free. */
  next: Link | null = null;
}

/** What the machines that are on their way make good, and how long evictions waited for it. */
export class Replacements {
  private free: Link | null = null;
  /** Over the evictions whose replacement came up: how many, and how long it took in all, in milliseconds. */
  replaced = 0;
  replacedMs = ZERO;

  clear(): void {
    this.replaced = 0;
    this.replacedMs = 0;
  }

  /** A link in front of a list: the new first one. */
  link(first: Link | null, units: number, gap: Gap | null, block: Block | null): Link {
    const link = this.free ?? new Link();
    this.free = link.next;
    link.units = units;
    link.gap = gap;
    link.block = block;
    link.next = first;
    return link;
  }

  /** The next of a list, the one before it being given back. */
  takeNext(link: Link): Link | null {
    const { next } = link;
    link.next = this.free;
    this.free = link;
    return next;
  }

  /** Units of an eviction are up again. */
  cameUp(gap: Gap, units: number, at: number): void {
    gap.openUnits -= units;
    if (gap.openUnits > 0) return;
    this.replaced++;
    this.replacedMs += at - gap.since;
  }
}
