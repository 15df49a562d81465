import { expandWithLead, type Level } from "@/core/hours";
import type { FleetPlan } from "@/core/plan";
import type { HoursOf } from "@/core/rounds";
import { DAY_S, type Instant, MINUTE_S } from "@/core/time";

/** Where hours never rise, a trip lasts until somebody starts it. */
export const FOR_GOOD_S = 3660 * DAY_S;
const LOOK_DAYS = [8, 60, 400] as const;

export type Followed = Readonly<{ hours: HoursOf; plan: Pick<FleetPlan, "lead">; ownSize: Level }>;

/** The end of a trip: the next rise of the hours after it, lead counted, leave as off. */
export function tripEnd(from: Instant, { hours, plan, ownSize }: Followed): Instant {
  if (hours.kind !== "schedule") return from + FOR_GOOD_S;
  for (const days of LOOK_DAYS) {
    const spans = expandWithLead(hours.compiled, { from, to: from + days * DAY_S, leadS: plan.lead * MINUTE_S, ownSize });
    const rise = spans.find((span, i) => i > 0 && (span.level ?? 0) > (spans[i - 1]?.level ?? 0));
    if (rise) return rise.from;
  }
  return from + FOR_GOOD_S;
}
