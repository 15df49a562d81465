import { isRunningState, isSchedulable } from "@/core/plan";
import type { LifeSpan } from "@/core/spend";
import { DAY_S, type Instant } from "@/core/time";
import { everList, type Pool, type StandingResource, type StateOf, standingAs } from "@/store";
import { claimsOf } from "../claims";
import { livesOfDay } from "../lives";
import { type AsOf, dueFinder } from "./due";

/** Everything as the feed told of it, and what the plans said of it then. */
export async function asTheyWere(pool: Pool, asOf: AsOf): Promise<readonly StandingResource[]> {
  const { world, at } = asOf;
  // What is gone now ran then.
  const [lives, ever] = await Promise.all([livesOfDay(pool, world.accounts, Math.floor(at / DAY_S) * DAY_S), everList(pool)]);
  const dueOf = dueFinder(asOf);
  const claims = claimsOf({ ...world, resources: ever });
  const were: StandingResource[] = [];
  ever.forEach((resource, i) => {
    const then = isSchedulable(resource) ? stateAt(lives.get(resource.id) ?? [], at) : resource.since <= at ? resource : null;
    if (then && then.state !== "gone") were.push(standingAs(resource, then, dueOf(resource, claims[i] ?? null)));
  });
  return were;
}

/** What the feed says of an instant; null before the first it tells. A run goes back to where the first of its states began. */
function stateAt(life: readonly LifeSpan[], at: Instant): StateOf | null {
  let i = life.length - 1;
  while (i >= 0 && (life[i] as LifeSpan).from > at) i--;
  const span = life[i];
  if (!span) return null;
  let first = i;
  while (first > 0 && isRunningState((life[first - 1] as LifeSpan).state)) first--;
  const runSince = isRunningState(span.state) ? (life[first] as LifeSpan).from : null;
  return { state: span.state, level: span.level, target: span.level, since: span.from, runSince };
}
