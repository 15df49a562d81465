import { isRunningState, isSchedulable, type Resource } from "@/core/plan";
import type { LifeSpan } from "@/core/spend";
import { DAY_S, type Instant } from "@/core/time";
import { type Decided, fullInventory, type Pool, resourceAs, type StateOf, type StoredResource } from "@/store";
import { claimsOf } from "../claims";
import { livesOfDay } from "../kept-lives";
import { type AsOf, dueFinder } from "./due";

/** Everything as the feed told of it, and what the plans said of it then. */
export async function asTheyWere(pool: Pool, asOf: AsOf): Promise<readonly StoredResource[]> {
  const { world, at } = asOf;
  // What is gone now ran then.
  const [lives, ever] = await Promise.all([
    livesOfDay(pool, world.accounts, Math.floor(at / DAY_S) * DAY_S),
    fullInventory(pool),
  ]);
  const dueOf = dueFinder(asOf);
  const claims = claimsOf({ ...world, resources: ever });
  const last = before.get(ever) ?? [];
  const now: (StoredResource | undefined)[] = [];
  ever.forEach((resource, i) => {
    const then = isSchedulable(resource) ? stateAt(lives.get(resource.id) ?? [], at) : resource.since <= at ? resource : null;
    if (!then || then.state === "gone") return;
    const decided = dueOf(resource, claims[i] ?? null);
    const known = last[i];
    now[i] = known && isSame(known, then, decided) ? known : resourceAs(resource, then, decided);
  });
  before.set(ever, now);
  return now.filter((resource) => resource !== undefined);
}

/** From one instant to the next most things stay as they were: what stays is the same object, and so are its rates. */
const before = new WeakMap<readonly Resource[], (StoredResource | undefined)[]>();

function isSame(known: StoredResource, { state, level, since, runSince }: StateOf, { due, fleet, why }: Decided): boolean {
  return (
    known.state === state &&
    known.level === level &&
    known.since === since &&
    known.runSince === runSince &&
    known.due === due &&
    known.fleet === fleet &&
    known.why === why
  );
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
