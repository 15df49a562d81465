import { metricsOf, unlikeUsual } from "@/core/idle";
import { DAY_S, formatDate, type Instant } from "@/core/time";
import { usualOf } from "@/store";
import type { Services } from "../admin";
import type { Look } from "./watch-idle";

/** So many days say what is usual. */
const USUAL_DAYS = 14;

/** Turns what has just warned or tripped on samples unlike all of the days before into a blind alarm that says so: nobody is warned or stopped by it. */
export async function doubtUnits({ pool }: Services, looks: readonly Look[], now: Instant): Promise<Look[]> {
  const asked = looks.filter(({ samples }) => samples !== null);
  if (asked.length === 0) return [...looks];
  const today = Math.floor(now / DAY_S);
  const usual = await usualOf(pool, {
    ids: [...new Set(asked.map(({ alarm }) => alarm.resourceId))],
    metrics: [...new Set(asked.flatMap(({ rule }) => metricsOf(rule)))],
    from: formatDate(today - USUAL_DAYS),
    to: formatDate(today - 1),
  });
  return looks.map((look) => {
    const { alarm, last, rule, samples } = look;
    const why = samples && unlikeUsual(rule, samples, usual.get(alarm.resourceId) ?? new Map());
    if (!why) return look;
    const since = last?.state === "blind" ? last.since : now;
    return { ...look, alarm: { ...alarm, state: "blind", since, why, warnedAt: null }, samples: null, trip: null };
  });
}
