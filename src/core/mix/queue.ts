/** Things that become ready in the order in which they were begun, since each takes as long as the others. */
export class ReadyQueue<Thing extends Readonly<{ life: number }>> {
  private at = new Float64Array(64);
  private what: Thing[] = [];
  private life = new Int32Array(64);
  private head = 0;
  private tail = 0;
  /** When the first is ready; Infinity: there is none. */
  nextAt = Infinity;

  clear(): void {
    this.head = 0;
    this.tail = 0;
    this.nextAt = Infinity;
  }

  push(at: number, what: Thing): void {
    if (this.tail === this.at.length) this.makeRoom();
    this.at[this.tail] = at;
    this.what[this.tail] = what;
    this.life[this.tail] = what.life;
    if (this.head === this.tail) this.nextAt = at;
    this.tail++;
  }

  /** The first, which leaves the queue; null when that one has gone meanwhile. */
  take(): Thing | null {
    const what = this.what[this.head] as Thing;
    const life = this.life[this.head] as number;
    this.head++;
    if (this.head === this.tail) this.clear();
    else this.nextAt = this.at[this.head] as number;
    return what.life === life ? what : null;
  }

  private makeRoom(): void {
    const count = this.tail - this.head;
    // Half empty in front: moved down, else twice as much.
    const isTight = count > this.at.length / 2;
    const size = isTight ? this.at.length * 2 : this.at.length;
    const at = isTight ? new Float64Array(size) : this.at;
    const life = isTight ? new Int32Array(size) : this.life;
    at.set(this.at.subarray(this.head, this.tail));
    life.set(this.life.subarray(this.head, this.tail));
    this.what.splice(0, this.head);
    [this.at, this.life, this.head, this.tail] = [at, life, 0, count];
  }
}
