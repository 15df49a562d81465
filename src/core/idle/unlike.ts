import type { AlarmSamples } from "./live";
import type { UnlikeUsual } from "./reason";
import type { IdleRule } from "./rule";

/** What a metric of one resource usually is: the median, over its last days, of the lowest and of the highest sample of a day. */
export type Usual = Readonly<{ low: number; high: number; days: number }>;

/** With fewer days nothing is usual yet. */
const FEWEST_DAYS = 5;
/** Idle is a few times less than usual; a hundred times less is another unit. */
const FAR = 20;

/**
 * Why the samples that would trip a rule are doubted: all of a window are further from what the metric usually is than use
 * explains, as when per cent become shares. Null where they are not, or where nothing is usual: a metric that is often 0 has no such range.
 */
export function unlikeUsual(
  { conditions }: Pick<IdleRule, "conditions">,
  samples: AlarmSamples,
  usual: ReadonlyMap<string, Usual>,
): UnlikeUsual | null {
  for (const { metric } of conditions) {
    const range = usual.get(metric);
    const values = (samples[metric] ?? []).filter((value) => value !== null);
    if (!range || range.days < FEWEST_DAYS || values.length === 0) continue;
    const [low, high] = [Math.min(...values), Math.max(...values)];
    if (range.low > 0 && high * FAR < range.low)
      return { code: "unlike usual", metric, side: "below", value: high, usual: range.low };
    if (range.high > 0 && low > range.high * FAR)
      return { code: "unlike usual", metric, side: "above", value: low, usual: range.high };
  }
  return null;
}
