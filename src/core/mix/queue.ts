/** Things that become ready in the order in which they were begun, since each takes as long as the others. */
export class ReadyQueue {
  private at = new Float64Array(64);
  private what = new Int32Array(64);
  private life = new Uint32Array(64);
  private head = 0;
  private tail = 0;
  /** When the first is ready; Infinity: there is none. */
  nextAt = Infinity;

  clear(): void {
    this.head = 0;
    this.tail = 0;
    this.nextAt = Infinity;
  }

  push(at: number, what: number, life: number): void {
    if (this.tail === this.at.length) this.makeRoom();
    this.at[this.tail] = at;
    this.what[this.tail] = what;
    this.life[this.tail] = life;
    if (this.head === this.tail) this.nextAt = at;
    this.tail++;
  }

  /** The first, which leaves the queue; -1 when that one has gone meanwhile. */
  take(lives: Uint32Array): number {
    const what = this.what[this.head] as number;
    const life = this.life[this.head] as number;
    this.head++;
    if (this.head === this.tail) this.clear();
    else this.nextAt = this.at[this.head] as number;
    return lives[what] === life ? what : -1;
  }

  private makeRoom(): void {
    const count = this.tail - this.head;
    // Half empty in front: moved down, else twice as much.
    const isTight = count > this.at.length / 2;
    const size = isTight ? this.at.length * 2 : this.at.length;
    const at = isTight ? new Float64Array(size) : this.at;
    const what = isTight ? new Int32Array(size) : this.what;
    const life = isTight ? new Uint32Array(size) : this.life;
    at.set(this.at.subarray(this.head, this.tail));
    what.set(this.what.subarray(this.head, this.tail));
    life.set(this.life.subarray(this.head, this.tail));
    [this.at, this.what, this.life, this.head, this.tail] = [at, what, life, 0, count];
  }
}
