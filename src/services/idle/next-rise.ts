import { hoursOver } from "@/core/idle";
import { DAY_S, type Instant } from "@/core/time";
import type { Claim } from "../inventory";

/** Where hours never rise, a trip lasts until somebody starts what it turned off. */
export const FOR_GOOD_S = 3660 * DAY_S;
const LOOK_DAYS = [8, 60, 400] as const;

/** The next rise of the hours that a resource follows, which ends its trip; null where there is none. */
export function nextRise(after: Instant, { hours, plan, ownSize }: Pick<Claim, "hours" | "plan" | "ownSize">): Instant | null {
  if (hours.kind !== "schedule") return null;
  for (const days of LOOK_DAYS) {
    const { rises } = hoursOver(hours.compiled, { from: after, to: after + days * DAY_S, leadMinutes: plan.lead, ownSize });
    if (rises[0] !== undefined) return rises[0];
  }
  return null;
}
