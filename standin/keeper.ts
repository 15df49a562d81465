import { mkdirSync, readFileSync, renameSync, writeFileSync } from "node:fs";
import { dirname } from "node:path";
import { birth } from "./world/birth";
import { advance } from "./world/engine";
import type { World } from "./world/types";

const SAVE_EVERY_MS = 500;

/** Holds the world, moves its clock and keeps it on disk. While the process is down the clock stands still. */
export class Keeper {
  readonly world: World;
  #anchor: { real: number; now: number };
  /** A running clock stands still once it gets here, until it is told how far it may go on. */
  #waitAt: number | null = null;
  #save: NodeJS.Timeout | null = null;

  constructor(readonly file: string) {
    this.world = load(file);
    this.#anchor = { real: Date.now(), now: this.world.clock.now };
  }

  /** The world's time, whole seconds. */
  now(): number {
    const { rate } = this.world.clock;
    const running = Math.floor(this.#anchor.now + ((Date.now() - this.#anchor.real) / 1000) * rate);
    return this.#waitAt === null ? running : Math.min(running, this.#waitAt);
  }

  get waitAt(): number | null {
    return this.#waitAt;
  }

  /** Says how far the clock may run; null as far as it likes. What is past by now is where it stands. */
  setWaitAt(at: number | null): void {
    this.catchUp();
    const now = this.now();
    this.#anchor = { real: Date.now(), now };
    this.#waitAt = at === null ? null : Math.max(at, now);
  }

  catchUp(): void {
    const before = this.world.events.length;
    advance(this.world, this.now());
    if (this.world.events.length !== before) this.changed();
  }

  setRate(rate: number): void {
    this.catchUp();
    this.#anchor = { real: Date.now(), now: this.now() };
    this.world.clock.rate = rate;
    this.changed();
  }

  stepTo(to: number): void {
    this.#waitAt = null;
    this.#anchor = { real: Date.now(), now: to };
    this.catchUp();
    this.changed();
  }

  changed(): void {
    this.#save ??= setTimeout(() => this.saveNow(), SAVE_EVERY_MS);
  }

  /** Writes beside the file and renames, so that a crash leaves the old state or the new one. */
  saveNow(): void {
    if (this.#save) clearTimeout(this.#save);
    this.#save = null;
    this.world.clock.now = this.now();
    mkdirSync(dirname(this.file), { recursive: true, mode: 0o700 });
    writeFileSync(`${this.file}.new`, JSON.stringify(this.world), { mode: 0o600 });
    renameSync(`${this.file}.new`, this.file);
  }
}

function load(file: string): World {
  try {
    return JSON.parse(readFileSync(file, "utf8")) as World;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return birth();
    throw error;
  }
}
