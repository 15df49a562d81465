import { HOUR_S, type Instant } from "../time";

export type LevelStretch = Readonly<{ from: Instant; to: Instant; level: number | null }>;

/** The mean level of each of `hours` hours from `from` on, summed over the stretches; where they say leave, nothing is added. */
export function levelByHour(stretches: readonly LevelStretch[], { from, hours }: { from: Instant; hours: number }): number[] {
  const seconds = new Float64Array(hours);
  for (const stretch of stretches) {
    if (!stretch.level) continue;
    const start = Math.max(from, stretch.from);
    const end = Math.min(from + hours * HOUR_S, stretch.to);
    for (let hour = Math.floor((start - from) / HOUR_S); from + hour * HOUR_S < end; hour++) {
      const inHour = Math.min(end, from + (hour + 1) * HOUR_S) - Math.max(start, from + hour * HOUR_S);
      seconds[hour] = (seconds[hour] ?? 0) + inHour * stretch.level;
    }
  }
  return Array.from(seconds, (value) => value / HOUR_S);
}
