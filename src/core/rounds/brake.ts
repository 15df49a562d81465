import type { Decision } from "./decide";
import type { HeldStops } from "./held";
import type { Reason } from "./reason";

/** What holds stops back besides the rule for unforeseen ones. */
export type Limits = Readonly<{
  /** The most stops of a round, foreseen or not; null: none, since an office closes every evening. */
  stops: number | null;
  /** What an unforeseen stop was sent to within the last hour. */
  unforeseenOfHour: ReadonlySet<string>;
}>;

export const NO_LIMITS: Limits = { stops: null, unforeseenOfHour: new Set() };

/** Unforeseen stops are held where they are more than both. */
const UNFORESEEN_COUNT = 10;
const UNFORESEEN_SHARE = 0.05;

/** True where so many unforeseen stops within an hour, of what runs in fleets in force, are held. */
export function isTooManyUnforeseen(unforeseen: number, running: number): boolean {
  return unforeseen > UNFORESEEN_COUNT && unforeseen > running * UNFORESEEN_SHARE;
}

/**
 * Turns stops into a question where too many come unforeseen, or more than a limit that was set; the foreseen ones go on. What
 * was held before stays so, however few are left of it.
 */
export function brake(
  decisions: readonly Decision[],
  { running, limits, approved, held }: { running: number; limits: Limits; approved: ReadonlySet<string>; held: HeldStops },
): readonly Decision[] {
  // What a person let go is no question any more, whatever the limit.
  const isCounted = (decision: Decision) => isStop(decision) && !approved.has(decision.resourceId);
  const unforeseen = new Set(limits.unforeseenOfHour);
  let stops = 0;
  for (const decision of decisions) {
    if (decision.isUnforeseen) unforeseen.add(decision.resourceId);
    if (isCounted(decision)) stops++;
  }
  const isTooMany = isTooManyUnforeseen(unforeseen.size, running);
  const isOverLimit = limits.stops !== null && stops > limits.stops;
  if (!isTooMany && !isOverLimit && held.size === 0) return decisions;
  const heldBack = (decision: Decision, reason: Reason): Decision => ({
    ...decision,
    verdict: "braked",
    reasons: [...decision.reasons, reason],
  });
  return decisions.map((decision) => {
    const before = held.get(decision.resourceId);
    // A limit that was raised or taken away holds nothing any more.
    const isByLimit = isOverLimit || (before?.reason === "limit" && limits.stops !== null && limits.stops <= before.limit);
    if (isByLimit && isCounted(decision)) {
      const limit = isOverLimit ? limits.stops : before?.limit;
      return heldBack(decision, { code: "over the limit of stops", limit: limit ?? 0 });
    }
    if ((isTooMany || before?.reason === "unforeseen") && decision.isUnforeseen)
      return heldBack(decision, { code: "unforeseen stops" });
    return decision;
  });
}

function isStop({ verdict, action, actual }: Decision): boolean {
  return verdict === "act" && action !== null && action.level === 0 && actual > 0;
}
