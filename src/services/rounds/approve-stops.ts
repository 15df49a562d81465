import { NO_OVERRIDE_CHANGES, newOverride } from "@/core/rounds";
import { DAY_S, HOUR_S, type Instant, MINUTE_S } from "@/core/time";
import {
  changeOverrides,
  type Db,
  endOverridesOn,
  heldBy,
  hushTrips,
  inTransaction,
  lastFullRound,
  type Pool,
  releaseStops,
  resourceList,
  saveApprovedStops,
  signal,
  tellHeldAgain,
} from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { queueRound } from "./queue-round";

/** How long a yes holds: what waits for the end of a paid hour is stopped within it, too. */
const HOLDS_S = HOUR_S + 10 * MINUTE_S;

/** The resources that a person has confirmed by a plan or a calendar may stop, for as long as the change is not an hour old. */
export async function confirmStops(
  db: Db,
  { resourceIds, person, at }: { resourceIds: readonly string[]; person: string; at: Instant },
): Promise<void> {
  await saveApprovedStops(db, { resourceIds, roundId: null, person, at, until: at + HOLDS_S });
}

/** What is let go: the round that held it, and how many it held as the person saw them. */
export type StopsApproved = Readonly<{ round: number; stops: number }>;

/**
 * Lets the stops go that a round held, just those, and asks for a round. Refused for a round that is not the
 * last, or that holds others than the person saw.
 */
export async function approveStops(services: Services, actor: Actor, asked: StopsApproved): Promise<void> {
  authorise(actor, "approve stops", ESTATE);
  const { pool } = services;
  const { now } = await services.clock.read();
  const resourceIds = await heldAsSeen(pool, asked);
  await inTransaction(pool, async (tx) => {
    await saveApprovedStops(tx, { resourceIds, roundId: asked.round, person: actor.name, at: now, until: now + HOLDS_S });
    await releaseStops(tx, resourceIds);
    await tellHeldAgain(tx, resourceIds);
  });
  await queueRound(pool, { by: actor.name, fleet: null });
}

/** A no keeps them on for so long; whatever asked for it may be changed meanwhile. */
const KEPT_ON_S = DAY_S;

/** Keeps on what a round would stop, just those: each is held as it is for a day, and its trip ends. Refused as a yes would be. */
export async function declineStops(services: Services, actor: Actor, asked: StopsApproved): Promise<void> {
  authorise(actor, "approve stops", ESTATE);
  const { pool } = services;
  const { now } = await services.clock.read();
  const ids = new Set(await heldAsSeen(pool, asked));
  const reason = `its stop, held by round ${asked.round}, was refused`;
  const keptOn = (await resourceList(pool))
    .filter(({ id, level }) => ids.has(id) && level > 0)
    .map(({ id, level }) =>
      newOverride("hold", { resourceId: id, level, from: now, to: now + KEPT_ON_S, reason, person: actor.name }),
    );
  await inTransaction(pool, async (tx) => {
    await endOverridesOn(tx, { kind: "trip", resourceIds: [...ids], at: now, by: actor.name });
    await changeOverrides(tx, { ...NO_OVERRIDE_CHANGES, add: keptOn });
    await releaseStops(tx, [...ids]);
    await hushTrips(tx, [...ids]);
  });
  await signal(pool, "holds");
  await queueRound(pool, { by: actor.name, fleet: null });
}

/** The stops that a round holds back, as the person saw them. */
async function heldAsSeen(pool: Pool, { round, stops }: StopsApproved): Promise<string[]> {
  const [last, resourceIds] = await Promise.all([lastFullRound(pool), heldBy(pool, round)]);
  if (resourceIds.length === 0) throw new RefusedError("not_found", `Round ${round} holds nothing back.`);
  const isOld = last !== null && last.id !== round && !isSameSet(await heldBy(pool, last.id), resourceIds);
  if (isOld || resourceIds.length !== stops)
    throw new RefusedError(
      "count_differs",
      `By now other stops are held than the ${stops} you saw. Nothing was changed; look at the last round.`,
    );
  return resourceIds;
}

function isSameSet(one: readonly string[], other: readonly string[]): boolean {
  const known = new Set(one);
  return one.length === other.length && other.every((id) => known.has(id));
}
