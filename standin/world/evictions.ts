import { isDry } from "./capacity";
import { chance } from "./chance";
import { wallClock } from "./local";
import { providerOf } from "./provider";
import { type Change, HOUR, type Unit } from "./types";

/**
 * What takes interruptible capacity back is the same for machines, members and machines of a group, and no constant rate: it follows
 * the hour of the day, comes in waves that take part of a size in a zone at once, and grows while there is none to be had.
 */
type Taken = Readonly<Pick<Unit, "id" | "cores" | "size" | "zone" | "provider" | "region">>;

/** Per machine-hour, by the size of the machine: large ones first. */
const HAZARD_PER_CORE_HOUR = 0.0012;
/** Waves an hour in the middle of the day, and the share of a size in a zone that one takes. */
const WAVES_AN_HOUR = 0.006;
const WAVE_TAKES = 0.4;
/** While none of a size is to be had in a zone, those that are there go sooner. */
const DRY_FACTOR = 3;

/** More is wanted back by day than by night, where its people live. */
function byHour({ provider, region }: Taken, at: number): number {
  const zone = providerOf(provider).regions.find(({ name }) => name === region)?.peopleZone ?? "UTC";
  const { hour } = wallClock(zone, at);
  return hour >= 8 && hour < 19 ? 1.6 : 0.55;
}

/** When in an hour since 1970 a machine is taken back alone, or one of a group of so many, and when in a wave; null where not. */
export function evictionsIn(
  seed: number,
  unit: Taken,
  hour: number,
  level = 1,
): Readonly<{ alone: number | null; inWave: number | null }> {
  const from = hour * HOUR;
  const busy = byHour(unit, from + HOUR / 2);
  const at = (what: string, who: string) => from + 150 + Math.floor(chance(seed, who, what, hour) * (HOUR - 160));
  const kind = `${unit.zone} ${unit.size}`;
  const sooner = busy * (isDry({ seed }, unit, from + HOUR / 2) ? DRY_FACTOR : 1);
  const hazard = HAZARD_PER_CORE_HOUR * unit.cores * Math.max(1, level) * sooner;
  const isAlone = chance(seed, unit.id, "evict", hour) < 1 - Math.exp(-hazard);
  const isInWave =
    chance(seed, kind, "wave", hour) < 1 - Math.exp(-WAVES_AN_HOUR * busy) &&
    chance(seed, unit.id, "in wave", hour) < 1 - (1 - WAVE_TAKES) ** Math.max(1, level);
  return { alone: isAlone ? at("evict at", unit.id) : null, inWave: isInWave ? at("wave at", kind) : null };
}

/** When in an hour a machine, or one of a group of so many, is taken back first; null where none is. */
export function evictionIn(seed: number, unit: Taken, level: number, hour: number): number | null {
  const { alone, inWave } = evictionsIn(seed, unit, hour, level);
  return alone === null ? inWave : inWave === null ? alone : Math.min(alone, inWave);
}

/** How long a group that keeps no disks is one short, in seconds. */
export function refillWait(seed: number, id: string, at: number): number {
  return 120 + Math.floor(chance(seed, id, "refill", at) * 600);
}

/** A machine, or one that keeps its disks, waits for somebody who starts it again: up to so many hours. */
const NOTICED_HOURS = 6;

/** How long it takes until somebody starts one again that was taken back, in seconds. */
export function noticedAfter(seed: number, id: string, at: number): number {
  return Math.round((0.3 + chance(seed, id, "noticed", Math.floor(at / HOUR)) * (NOTICED_HOURS - 0.3)) * HOUR);
}

export type Past = Readonly<{ life: Change[]; evictedAt: ReadonlySet<number> }>;

/**
 * The days before the demo begins of what is interruptible and always on: taken back as it will be later, and had again.
 * In the last hours nothing is, so that all is up when the demo begins.
 */
export function pastOf(seed: number, unit: Taken & Pick<Unit, "kind" | "keepsDisks">, span: Span): Past {
  const life = [...span.life];
  const evictedAt = new Set<number>();
  const whole = life.at(-1)?.level ?? 1;
  const isRefilled = unit.kind === "group" && !unit.keepsDisks;
  const last = Math.floor(span.to / HOUR) - NOTICED_HOURS - 1;
  for (let hour = Math.ceil(span.from / HOUR); hour < last; hour++) {
    const at = evictionIn(seed, unit, whole, hour);
    if (at === null) continue;
    const back = at + (isRefilled ? refillWait(seed, unit.id, at) : noticedAfter(seed, unit.id, at));
    life.push({ at, state: whole > 1 ? "running" : "stopped", level: whole - 1 }, { at: back, state: "running", level: whole });
    evictedAt.add(at);
    hour = Math.floor(back / HOUR);
  }
  return { life, evictedAt };
}

type Span = Readonly<{ from: number; to: number; life: readonly Change[] }>;
