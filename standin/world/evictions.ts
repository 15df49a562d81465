import { chance } from "./chance";
import { type Change, HOUR, type Unit } from "./types";

/** How often interruptible capacity is taken back, per machine-hour, by the size of the machine: large ones first. */
export const HAZARD_PER_CORE_HOUR = 0.0012;

type Taken = Readonly<Pick<Unit, "id" | "cores">>;

/** When in an hour since 1970 a machine, or one of a group of so many, is taken back; null where none is. */
export function evictionIn(seed: number, { id, cores }: Taken, level: number, hour: number): number | null {
  const hazard = HAZARD_PER_CORE_HOUR * cores * Math.max(1, level);
  if (chance(seed, id, "evict", hour) >= 1 - Math.exp(-hazard)) return null;
  return hour * HOUR + 600 + Math.floor(chance(seed, id, "evict at", hour) * (HOUR - 660));
}

/** How long a group that keeps no disks is one short, in seconds. */
export function refillWait(seed: number, id: string, at: number): number {
  return 120 + Math.floor(chance(seed, id, "refill", at) * 600);
}

/** A machine, or one that keeps its disks, waits for somebody who starts it again: up to so many hours. */
const NOTICED_HOURS = 6;

export type Past = Readonly<{ life: Change[]; evictedAt: ReadonlySet<number> }>;

/**
 * The days before the demo begins of what is interruptible and always on: taken back as it will be later, and had again.
 * In the last hours nothing is, so that all is up when the demo begins.
 */
export function pastOf(seed: number, unit: Pick<Unit, "id" | "cores" | "kind" | "keepsDisks">, span: Span): Past {
  const life = [...span.life];
  const evictedAt = new Set<number>();
  const whole = life.at(-1)?.level ?? 1;
  const isRefilled = unit.kind === "group" && !unit.keepsDisks;
  const last = Math.floor(span.to / HOUR) - NOTICED_HOURS - 1;
  for (let hour = Math.ceil(span.from / HOUR); hour < last; hour++) {
    const at = evictionIn(seed, unit, whole, hour);
    if (at === null) continue;
    const noticed = Math.round((0.3 + chance(seed, unit.id, "noticed", hour) * (NOTICED_HOURS - 0.3)) * HOUR);
    const back = at + (isRefilled ? refillWait(seed, unit.id, at) : noticed);
    life.push({ at, state: whole > 1 ? "running" : "stopped", level: whole - 1 }, { at: back, state: "running", level: whole });
    evictedAt.add(at);
    hour = Math.floor(back / HOUR);
  }
  return { life, evictedAt };
}

type Span = Readonly<{ from: number; to: number; life: readonly Change[] }>;
