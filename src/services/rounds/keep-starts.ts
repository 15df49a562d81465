import { type Asked, type Decision, goesBeforeStarts, mayHaveCaused, type NewOverride, newOverride } from "@/core/rounds";
import { type Instant, MINUTE_S } from "@/core/time";
import { askedSince, keptStarts, type Pool, type Rise, risesSince, type StoredOverride } from "@/store";
import type { Snapshot } from "../inventory";

/** An action may have been sent so long before the rise that it caused. */
const CAUSED_WITHIN_S = 60 * MINUTE_S;

/** What a round knows when it looks for starts. */
export type StartsState = Readonly<{ snapshot: Snapshot; overrides: readonly StoredOverride[]; now: Instant }>;

/** Rises that a round is about to undo, with what may have caused them, and the starts that were kept for some already. */
export type StartFacts = Readonly<{
  rises: readonly Rise[];
  asked: ReadonlyMap<string, readonly Asked[]>;
  kept: ReadonlySet<string>;
  /** The fleet of each of them. */
  fleetOf: ReadonlyMap<string, string>;
}>;

const NO_RISES: StartFacts = { rises: [], asked: new Map(), kept: new Set(), fleetOf: new Map() };

/** Reads the last rises of what a round is about to lower. */
export async function startFacts(
  pool: Pool,
  { snapshot, now }: StartsState,
  decisions: readonly Decision[],
): Promise<StartFacts> {
  const graceOf = graces(snapshot);
  const longest = Math.max(0, ...graceOf.values());
  const since = now - longest;
  const byId = new Map(snapshot.resources.map((resource) => [resource.id, resource]));
  const lowered = decisions.filter(({ resourceId, fleet, due, actual, chain }) => {
    // That nobody is there has been seen.
    if (chain.some(({ rule, applies }) => applies && goesBeforeStarts(rule))) return false;
    const runSince = byId.get(resourceId)?.runSince ?? null;
    return fleet !== null && due !== null && due < actual && runSince !== null && (graceOf.get(fleet) ?? 0) > 0;
  });
  if (lowered.length === 0 || longest === 0) return NO_RISES;
  const rises = await risesSince(
    pool,
    lowered.map(({ resourceId }) => resourceId),
    since,
  );
  if (rises.length === 0) return NO_RISES;
  const ids = rises.map(({ resourceId }) => resourceId);
  const [asked, kept] = await Promise.all([askedSince(pool, ids, since - CAUSED_WITHIN_S), keptStarts(pool, ids, since)]);
  return { rises, asked, kept, fleetOf: new Map(lowered.map(({ resourceId, fleet }) => [resourceId, fleet ?? ""])) };
}

/**
 * The persons' starts that a round is about to undo: rises that no action of ours caused, within the grace of
 * their fleet, that nobody has ended. Pure.
 */
export function startsToKeep({ snapshot, now }: StartsState, { rises, asked, kept, fleetOf }: StartFacts): NewOverride[] {
  if (rises.length === 0) return [];
  const graceOf = graces(snapshot);
  const byId = new Map(snapshot.resources.map((resource) => [resource.id, resource]));
  return rises.flatMap(({ resourceId, at, note }): NewOverride[] => {
    const to = at + (graceOf.get(fleetOf.get(resourceId) ?? "") ?? 0);
    const isOurs = asked.get(resourceId)?.some((action) => mayHaveCaused(action, { at, isRise: true }));
    const resource = byId.get(resourceId);
    if (to <= now || isOurs || !resource || kept.has(`${resourceId} ${at}`)) return [];
    const reason = note === "" ? "somebody started it" : `somebody started it: ${note}`;
    const level = resource.kind === "machine" ? resource.level : resource.target;
    return [newOverride("start", { resourceId, level, from: at, to, reason, person: "its start" })];
  });
}

/** How long a person's start is kept, in seconds, by fleet. */
function graces({ fleets }: Snapshot): ReadonlyMap<string, number> {
  return new Map(fleets.map(({ name, inForce }) => [name, (inForce?.grace ?? 0) * MINUTE_S]));
}

/** The starts of what is off again, by their numbers: its next start is another one. Pure. */
export function endedStarts({ snapshot, overrides }: StartsState): number[] {
  const starts = overrides.filter(({ kind }) => kind === "start");
  if (starts.length === 0) return [];
  const byId = new Map(snapshot.resources.map((resource) => [resource.id, resource]));
  return starts.flatMap(({ id, resourceId, from }) => {
    const resource = byId.get(resourceId ?? "");
    // Who signs in at one that is off has its start before it: it has yet to come.
    return resource && resource.level === 0 && resource.state !== "starting" && resource.since > from ? [id] : [];
  });
}
