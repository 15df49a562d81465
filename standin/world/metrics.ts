import { chance } from "./chance";
import { wallClock } from "./local";
import { isSat } from "./office";
import { providerOf } from "./provider";
import { DAY, type Unit } from "./types";

export const STEP = 300;
export const METRICS = [
  "cpu",
  "network",
  "disk.ops",
  "graphics",
  "sessions.active",
  "sessions.disconnected",
  "sessions.since_signoff",
] as const;
export type Metric = (typeof METRICS)[number];

/** True where a unit has a metric at all: graphics only what has such a card, sign-offs only where people sign in. */
export function has(unit: Unit, metric: Metric): boolean {
  if (metric === "graphics")
    return providerOf(unit.provider).sizes.some(({ name, isGraphics }) => name === unit.size && isGraphics);
  return metric !== "sessions.since_signoff" || isDesk(unit);
}

function isDesk({ habit }: Unit): boolean {
  return habit === "desk" || habit === "class";
}

/**
 * Samples over `(from, to]`, oldest first, each covering the five minutes before its time; null while
 * the unit was not running. `from` is a whole multiple of the step; a sample at x stands at index (x - from) / 300 - 1.
 */
export function samplesOver(
  seed: number,
  unit: Unit,
  { metric, from, to }: { metric: Metric; from: number; to: number },
): (number | null)[] {
  const zone = zoneOf(unit);
  const samples: (number | null)[] = [];
  /** When somebody was last signed in, as far as it was looked for. */
  let signedIn = metric === "sessions.since_signoff" ? lastSignedIn(seed, unit, { at: from, zone }) : 0;
  let i = 0;
  for (let at = from + STEP; at <= to; at += STEP) {
    while (i + 1 < unit.life.length && (unit.life[i + 1]?.at ?? 0) <= at - STEP) i++;
    const now = unit.life[i];
    const isRunning = now && now.at <= at - STEP && now.state === "running";
    if (!isRunning) samples.push(null);
    else if (metric === "sessions.since_signoff") {
      if (busyness(seed, unit, { ...wallClock(zone, at), at }) > 0.3) signedIn = at;
      samples.push(Math.round((at - Math.max(signedIn, now.at)) / 60));
    } else samples.push(valueAt(seed, unit, { metric, at, zone }));
  }
  return samples;
}

function zoneOf(unit: Unit): string {
  return providerOf(unit.provider).regions.find(({ name }) => name === unit.region)?.peopleZone ?? "UTC";
}

/** True where somebody is signed in, if it runs. */
export function isSignedIn(seed: number, unit: Unit, at: number): boolean {
  return isDesk(unit) && busyness(seed, unit, { ...wallClock(zoneOf(unit), at), at }) > 0.3;
}

/** When somebody was last signed in before an instant, a day back at most. */
function lastSignedIn(seed: number, unit: Unit, { at, zone }: { at: number; zone: string }): number {
  let t = at;
  while (t > at - DAY && !(busyness(seed, unit, { ...wallClock(zone, t), at: t }) > 0.3)) t -= STEP;
  return t;
}

function valueAt(seed: number, unit: Unit, { metric, at, zone }: { metric: Metric; at: number; zone: string }): number {
  if (metric.startsWith("sessions.") && !isDesk(unit)) return 0;
  const { weekday, hour, day } = wallClock(zone, at);
  const noise = chance(seed, unit.id, metric, at);
  const busy = busyness(seed, unit, { weekday, hour, day, at });
  if (metric === "cpu")
    return Math.round((1.2 + noise * 2.2 + busy * (38 + 42 * chance(seed, unit.id, Math.floor(at / 1800)))) * 10) / 10;
  if (metric === "network") return Math.round(4 + noise * 9 + busy * 900 * chance(seed, unit.id, "net", Math.floor(at / 900)));
  if (metric === "disk.ops") return Math.round(noise * 6 + busy * 240 * chance(seed, unit.id, "disk", Math.floor(at / 1200)));
  if (metric === "graphics")
    return Math.round((noise * 1.5 + busy * 55 * chance(seed, unit.id, "gpu", Math.floor(at / 1800))) * 10) / 10;
  if (metric === "sessions.active") return busy > 0.3 ? 1 : 0;
  // Whoever shares machines signs off.
  if (unit.sittings) return 0;
  return !(busy > 0.3) && hour > 12 && chance(seed, unit.id, "left", day) < 0.5 ? 1 : 0;
}

/** An instant with what the wall clock there says. */
type Moment = { weekday: number; hour: number; day: number; at: number };

/** 0 to 1 by role and hour on the wall clock of the people there. */
function busyness(seed: number, unit: Unit, { weekday, hour, day, at }: Moment): number {
  const bell = (centre: number, width: number) => Math.exp(-(((hour - centre) / width) ** 2));
  switch (unit.habit) {
    case "desk": {
      if (unit.sittings) return isSat(unit, at) ? 0.75 : 0.02;
      if (weekday > 4) return 0;
      const start = 7.5 + 1.5 * chance(seed, unit.id, "in", day);
      const end = 15.5 + 2.5 * chance(seed, unit.id, "out", day);
      const isLunch = hour > 11.5 && hour < 12.1;
      return hour > start && hour < end && !isLunch ? 0.75 : 0.02;
    }
    case "class":
      return weekday === 5 && hour > 9 && hour < 13 ? 0.6 : 0.01;
    case "batch":
      return chance(seed, unit.id, "burst", day, Math.floor(hour / 3)) < 0.6 ? 1 : 0.08;
    case "trial":
    case "left on":
      return chance(seed, unit.id, "use", day) < 0.25 && hour > 9 && hour < 15 ? 0.5 : 0.015;
    default:
      return 0.15 + 0.5 * bell(12, 4) + 0.35 * bell(18, 1.2) * (weekday === 6 ? 2 : 1);
  }
}
