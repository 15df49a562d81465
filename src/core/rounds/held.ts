import type { Decision } from "./decide";

/** Why a stop was held back, and since when; of a limit which it was. */
export type HeldStop = Readonly<
  { since: number; reason: "unforeseen"; limit: null } | { since: number; reason: "limit"; limit: number }
>;

/** The stops that are held until a person has said yes or no, by resource. */
export type HeldStops = ReadonlyMap<string, HeldStop>;

/**
 * What changes of the held stops by a round's decisions; null: it is held no more. One stays held, however little there is to
 * be held by now and whatever the round could not look at, until a person said yes to it, or what it rested on is gone: nothing
 * wants it off any more, or it is off or gone. `isWhole`: the decisions are about everything.
 */
export function heldAfter(
  decisions: readonly Decision[],
  { held, now, isWhole }: Readonly<{ held: HeldStops; now: number; isWhole: boolean }>,
): ReadonlyMap<string, HeldStop | null> {
  // In a round over everything, what nothing was decided about is gone.
  const news = new Map<string, HeldStop | null>(isWhole ? [...held.keys()].map((id) => [id, null]) : []);
  for (const decision of decisions) {
    const before = held.get(decision.resourceId);
    news.delete(decision.resourceId);
    if (decision.verdict === "braked") {
      if (!before) news.set(decision.resourceId, heldBy(decision, now));
    } else if (before && !isUndecided(decision)) news.set(decision.resourceId, null);
  }
  return news;
}

/** It still is to be off and is not, and nothing was done about it: what could not be looked at may come back. */
function isUndecided({ verdict, due, actual }: Decision): boolean {
  return (verdict === "left" || verdict === "waiting") && due === 0 && actual > 0;
}

function heldBy({ reasons }: Decision, since: number): HeldStop {
  const last = reasons.at(-1);
  return last?.code === "over the limit of stops"
    ? { since, reason: "limit", limit: last.limit }
    : { since, reason: "unforeseen", limit: null };
}
