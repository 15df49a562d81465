const FEW = 16;

/** Machines of a pool by the hazard at which each is evicted, the least first: a heap. Who has gone meanwhile stays in it. */
export class Fates {
  /** Hazard and id, one after the other. */
  private lots = new Float64Array(2 * FEW);
  size = 0;

  clear(): void {
    this.size = 0;
  }

  get hazard(): number {
    return this.lots[0] as number;
  }

  get id(): number {
    return (this.lots[1] as number) | 0;
  }

  push(hazard: number, id: number): void {
    if (2 * this.size === this.lots.length) this.makeRoom();
    const { lots } = this;
    let i = this.size++;
    while (i > 0) {
      const up = (i - 1) >> 1;
      const above = lots[2 * up] as number;
      if (above <= hazard) break;
      lots[2 * i] = above;
      lots[2 * i + 1] = lots[2 * up + 1] as number;
      i = up;
    }
    lots[2 * i] = hazard;
    lots[2 * i + 1] = id;
  }

  /** The first leaves it. */
  pop(): void {
    const { lots } = this;
    const size = --this.size;
    const hazard = lots[2 * size] as number;
    const id = lots[2 * size + 1] as number;
    let i = 0;
    for (;;) {
      let down = 2 * i + 1;
      if (down >= size) break;
      let below = lots[2 * down] as number;
      if (down + 1 < size) {
        const other = lots[2 * down + 2] as number;
        if (other < below) {
          below = other;
          down++;
        }
      }
      if (below >= hazard) break;
      lots[2 * i] = below;
      lots[2 * i + 1] = lots[2 * down + 1] as number;
      i = down;
    }
    lots[2 * i] = hazard;
    lots[2 * i + 1] = id;
  }

  private makeRoom(): void {
    const lots = new Float64Array(2 * this.lots.length);
    lots.set(this.lots);
    this.lots = lots;
  }
}
