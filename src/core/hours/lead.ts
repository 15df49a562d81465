import type { Instant } from "../time/instant";
import type { CompiledSchedule } from "./compile";
import { expand, type Interval } from "./expand";
import { asLevel, type Level } from "./level";

/**
 * Moves every rise of level `leadS` seconds earlier and leaves falls where they are, so that
 * machines are ready at the hour. A gap shorter than the lead disappears. Leave counts as below 0.
 */
export function withLead(intervals: readonly Interval[], leadS: number): readonly Interval[] {
  if (leadS === 0) return intervals;
  const result: Interval[] = [];
  for (const interval of intervals) {
    let from = interval.from;
    const height = heightOf(interval);
    if (result.length > 0 && heightOf(result.at(-1) as Interval) < height) {
      const wanted = interval.from - leadS;
      while (result.length > 0) {
        const last = result.at(-1) as Interval;
        if (heightOf(last) >= height || last.to <= wanted) break;
        result.pop();
        from = Math.max(last.from, wanted);
        if (last.from < from) {
          result.push({ ...last, to: from });
          break;
        }
      }
    }
    push(result, { ...interval, from });
  }
  return result;
}

export type LedSpan = Readonly<{ from: Instant; to: Instant; leadS: number; ownSize?: Level }>;

/** What a schedule gives over `[from, to)` with a lead: the intervals tile the span. */
export function expandWithLead(
  compiled: CompiledSchedule,
  { from, to, leadS, ownSize = asLevel(1) }: LedSpan,
): readonly Interval[] {
  return withLead(expand(compiled, from, to + leadS, ownSize), leadS).flatMap((interval): Interval[] => {
    if (interval.from >= to) return [];
    return interval.to <= to ? [interval] : [{ ...interval, to }];
  });
}

function heightOf({ level }: Interval): number {
  return level ?? -1;
}

function push(result: Interval[], next: Interval): void {
  const last = result.at(-1);
  if (last && last.level === next.level && last.because === next.because) result[result.length - 1] = { ...last, to: next.to };
  else result.push(next);
}
