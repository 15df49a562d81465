import { type Decision, goesBeforeStarts, mayHaveCaused } from "@/core/rounds";
import { type Instant, MINUTE_S } from "@/core/time";
import {
  askedSince,
  endStarts,
  keptStarts,
  type NewStart,
  type Pool,
  type PoolClient,
  risesSince,
  type StoredOverride,
} from "@/store";
import type { StoredWorld } from "../inventory";

/** An action may have been sent so long before the rise that it caused. */
const CAUSED_WITHIN_S = 60 * MINUTE_S;

type Deciding = Readonly<{ world: StoredWorld; decisions: readonly Decision[]; now: Instant }>;

/**
 * The persons' starts that a round is about to undo: rises that no action of ours caused, within the grace of
 * their fleet, that nobody has ended.
 */
export async function startsToKeep(pool: Pool, { world, decisions, now }: Deciding): Promise<NewStart[]> {
  const graceOf = new Map(world.fleets.map(({ name, inForce }) => [name, (inForce?.grace ?? 0) * MINUTE_S]));
  const longest = Math.max(0, ...graceOf.values());
  const since = now - longest;
  const byId = new Map(world.resources.map((resource) => [resource.id, resource]));
  const lowered = decisions.filter(({ resourceId, fleet, due, actual, chain }) => {
    // An idle trip goes before a person's start: that nobody is there has been seen.
    if (chain.some(({ rule, applies }) => applies && goesBeforeStarts(rule))) return false;
    const runSince = byId.get(resourceId)?.runSince ?? null;
    return fleet !== null && due !== null && due < actual && runSince !== null && (graceOf.get(fleet) ?? 0) > 0;
  });
  if (lowered.length === 0 || longest === 0) return [];
  const rises = await risesSince(
    pool,
    lowered.map(({ resourceId }) => resourceId),
    since,
  );
  if (rises.length === 0) return [];
  const ids = rises.map(({ resourceId }) => resourceId);
  const [asked, kept] = await Promise.all([askedSince(pool, ids, since - CAUSED_WITHIN_S), keptStarts(pool, ids, since)]);
  const fleetOf = new Map(lowered.map(({ resourceId, fleet }) => [resourceId, fleet ?? ""]));
  return rises.flatMap(({ resourceId, at, note }): NewStart[] => {
    const to = at + (graceOf.get(fleetOf.get(resourceId) ?? "") ?? 0);
    const isOurs = asked.get(resourceId)?.some((action) => mayHaveCaused(action, { at, isRise: true }));
    const resource = byId.get(resourceId);
    if (to <= now || isOurs || !resource || kept.has(`${resourceId} ${at}`)) return [];
    const reason = note === "" ? "somebody started it" : `somebody started it: ${note}`;
    return [{ resourceId, level: resource.kind === "machine" ? resource.level : resource.target, from: at, to, reason }];
  });
}

/** Ends the starts of what is off again: its next start is another one. */
export async function endStartsOfOff(
  tx: PoolClient,
  { world, holds, now }: Readonly<{ world: StoredWorld; holds: readonly StoredOverride[]; now: Instant }>,
): Promise<number> {
  const started = new Map(
    holds.flatMap(({ kind, resourceId, from }) => (kind === "start" && resourceId !== null ? [[resourceId, from]] : [])),
  );
  if (started.size === 0) return 0;
  // Who signs in at one that is off has its start before it: it has yet to come.
  const off = world.resources.filter(
    ({ id, level, state, since }) => level === 0 && state !== "starting" && since > (started.get(id) ?? Number.POSITIVE_INFINITY),
  );
  return off.length === 0
    ? 0
    : endStarts(
        tx,
        off.map(({ id }) => id),
        now,
      );
}

/** As holds, for a rehearsal, which keeps nothing. */
export function asHolds(starts: readonly NewStart[]): StoredOverride[] {
  return starts.map((start, i) => ({
    ...start,
    id: Number.MAX_SAFE_INTEGER - i,
    fleet: null,
    name: "",
    person: "its start",
    kind: "start" as const,
    ruleKey: null,
    offAction: null,
    releasedAt: null,
  }));
}
