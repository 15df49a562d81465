import { providerOf } from "./birth";
import { chance } from "./chance";
import { wallClock } from "./local";
import { DAY, type Unit } from "./types";

export const STEP = 300;
export const METRICS = ["cpu", "sessions.active", "sessions.disconnected"] as const;
export type Metric = (typeof METRICS)[number];

/**
 * One UTC day of samples, oldest first, each covering the five minutes before its time; null while
 * the unit was not running. A sample at x stands at index (x - day) / 300 - 1.
 */
export function samplesOfDay(
  seed: number,
  unit: Unit,
  { metric, day, until }: { metric: Metric; day: number; until: number },
): (number | null)[] {
  const zone = providerOf(unit.provider).regions.find(({ name }) => name === unit.region)?.peopleZone ?? "UTC";
  const samples: (number | null)[] = [];
  let i = 0;
  for (let at = day + STEP; at <= day + DAY; at += STEP) {
    if (at > until) break;
    while (i + 1 < unit.life.length && (unit.life[i + 1]?.at ?? 0) <= at - STEP) i++;
    const now = unit.life[i];
    const isRunning = now && now.at <= at - STEP && now.state === "running";
    samples.push(isRunning ? valueAt(seed, unit, { metric, at, zone }) : null);
  }
  return samples;
}

function valueAt(seed: number, unit: Unit, { metric, at, zone }: { metric: Metric; at: number; zone: string }): number {
  const { weekday, hour, day } = wallClock(zone, at);
  const noise = chance(seed, unit.id, metric, at);
  const busy = busyness(seed, unit, { weekday, hour, day });
  if (metric === "cpu")
    return Math.round((1.2 + noise * 2.2 + busy * (38 + 42 * chance(seed, unit.id, Math.floor(at / 1800)))) * 10) / 10;
  const isDesk = unit.habit === "desk" || unit.habit === "class";
  if (!isDesk) return 0;
  const isSignedIn = busy > 0.3;
  if (metric === "sessions.active") return isSignedIn ? 1 : 0;
  return !isSignedIn && hour > 12 && chance(seed, unit.id, "left", day) < 0.5 ? 1 : 0;
}

/** 0 to 1 by role and hour on the wall clock of the people there. */
function busyness(seed: number, unit: Unit, { weekday, hour, day }: { weekday: number; hour: number; day: number }): number {
  const bell = (centre: number, width: number) => Math.exp(-(((hour - centre) / width) ** 2));
  switch (unit.habit) {
    case "desk": {
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
