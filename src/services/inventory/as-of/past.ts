import { isRunningState, listedAt, type Resource } from "@/core/plan";
import { isThereAt, type LifeSpan } from "@/core/spend";
import { DAY_S, type Instant } from "@/core/time";
import { type Decided, fullInventory, keptBeside, type Pool, resourceAs, type StateOf, type StoredResource } from "@/store";
import { claimsOf, fleetsOfMembers } from "../claims";
import { livesOfDay } from "../kept-lives";
import { type AsOf, dueFinder } from "./due";

/** Everything as it was told of, listed as it then was, and what the plans and hours said of it then. */
export async function asTheyWere(pool: Pool, asOf: AsOf): Promise<readonly StoredResource[]> {
  const { snapshot, at } = asOf;
  // What is gone now ran then.
  const [lives, all] = await Promise.all([livesOfDay(pool, Math.floor(at / DAY_S) * DAY_S), fullInventory(pool)]);
  const full = listedThen(all, at);
  const dueOf = dueFinder(asOf);
  const claims = claimsOf({ ...snapshot, resources: full }, ({ id }) => isThereAt(lives.get(id), at));
  const ofMembers = fleetsOfMembers(full, claims);
  const before = keptBeside<Before>("as of before", all, { make: () => ({ last: [] }) });
  const { last } = before;
  const now: (StoredResource | undefined)[] = [];
  full.forEach((resource, i) => {
    const then = stateAt(lives.get(resource.id) ?? [], at);
    if (!then || then.state === "gone") return;
    const fleet = ofMembers.get(resource.id);
    const decided =
      fleet === undefined ? dueOf(resource, claims[i] ?? null) : { due: null, fleet, why: "its group was kept at its mix" };
    const known = last[i];
    now[i] = known && isSame(known, resource, then, decided) ? known : resourceAs(resource, then, decided);
  });
  // From one instant to the next most things stay as they were: what stays is the same object, and so are its rates.
  before.last = now;
  return now.filter((resource) => resource !== undefined);
}

/** The answer to the last instant that was asked about, in the order of the list. */
type Before = { last: readonly (StoredResource | undefined)[] };

/** The same list where nothing was listed otherwise then: whatever is kept beside it stays good. */
function listedThen(all: readonly Resource[], at: Instant): readonly Resource[] {
  return all.some((resource) => listedAt(resource, at) !== resource) ? all.map((resource) => listedAt(resource, at)) : all;
}

function isSame(
  known: StoredResource,
  { fields, tags }: Resource,
  { state, level, since, runSince }: StateOf,
  { due, fleet, why }: Decided,
): boolean {
  return (
    known.fields === fields &&
    known.tags === tags &&
    known.state === state &&
    known.level === level &&
    known.since === since &&
    known.runSince === runSince &&
    known.due === due &&
    known.fleet === fleet &&
    known.why === why
  );
}

/** What is told of an instant; null before the first that is. A run goes back to where the first of its states began. */
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
