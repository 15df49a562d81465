import { MINUTE_S } from "../time";
import type { Warning } from "../warning";
import { WAIT_MAX_S } from "./live";
import { type IdleRule, metricsOf } from "./rule";

/** A metric that comes later than a rule's shortest window is long: what was idle then may be in use by the time it is acted on. */
export type LateWarning = Warning<
  "late source",
  Readonly<{ metric: string; latenessS: number; window: number; isTooLate: boolean }>
>;

/** What is odd with how late a rule's metrics usually come (seconds, null where not known): each metric at most once. */
export function lateWarnings(rule: Pick<IdleRule, "conditions">, latenessOf: (metric: string) => number | null): LateWarning[] {
  const window = Math.min(...rule.conditions.map(({ window: minutes }) => minutes));
  return metricsOf(rule).flatMap((metric): LateWarning[] => {
    const latenessS = latenessOf(metric) ?? 0;
    const isTooLate = latenessS > WAIT_MAX_S;
    return latenessS > window * MINUTE_S || isTooLate ? [{ code: "late source", metric, latenessS, window, isTooLate }] : [];
  });
}

/** The warning in a sentence. */
export function lateWords({ metric, latenessS, window, isTooLate }: LateWarning): string {
  const late = `${metric} usually comes ${Math.round(latenessS / MINUTE_S)} min late`;
  return isTooLate
    ? `${late}, and is waited for ${WAIT_MAX_S / MINUTE_S} min: the rule cannot act on it.`
    : `${late}, more than the shortest window of ${window} min: whoever comes meanwhile is seen only after the rule has acted.`;
}
