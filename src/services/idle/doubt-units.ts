import { metricsOf, unlikeUsual } from "@/core/idle";
import { DAY_S, formatDate, type Instant } from "@/core/time";
import { type Pool, usualOf } from "@/store";
import type { Evaluation } from "./evaluate-alarms";

/** So many days say what is usual. */
const USUAL_DAYS = 14;

/** By machine, what its metrics were on the days before. */
export type UsualMetrics = Awaited<ReturnType<typeof usualOf>>;

/** What was usual of the metrics that alarms have just warned or tripped on. */
export async function usualMetrics(pool: Pool, looks: readonly Evaluation[], now: Instant): Promise<UsualMetrics> {
  const asked = looks.filter(({ samples }) => samples !== null);
  if (asked.length === 0) return new Map();
  const today = Math.floor(now / DAY_S);
  return usualOf(pool, {
    ids: [...new Set(asked.map(({ alarm }) => alarm.resourceId))],
    metrics: [...new Set(asked.flatMap(({ rule }) => metricsOf(rule)))],
    from: formatDate(today - USUAL_DAYS),
    to: formatDate(today - 1),
  });
}

/** Turns what has just warned or tripped on samples unlike all of the days before into a blind alarm that says so: nobody is warned or stopped by it. */
export function doubtUnits(
  looks: readonly Evaluation[],
  { usual, now }: Readonly<{ usual: UsualMetrics; now: Instant }>,
): readonly Evaluation[] {
  return looks.map((look) => {
    const { alarm, last, rule, samples } = look;
    const reason = samples && unlikeUsual(rule, samples, usual.get(alarm.resourceId) ?? new Map());
    if (!reason) return look;
    const since = last?.state === "blind" ? last.since : now;
    return { ...look, alarm: { ...alarm, state: "blind", since, reason, warnedAt: null }, samples: null, trip: null };
  });
}
