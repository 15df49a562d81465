import { HOUR_S, type Instant, MINUTE_S } from "@/core/time";
import { type Db, heldBy, lastFullRound, saveApprovedStops } from "@/store";
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
export async function approveStops(services: Services, actor: Actor, { round, stops }: StopsApproved): Promise<void> {
  authorise(actor, "approve stops", ESTATE);
  const { pool } = services;
  const [{ now }, last, resourceIds] = await Promise.all([services.clock.read(), lastFullRound(pool), heldBy(pool, round)]);
  if (resourceIds.length === 0) throw new RefusedError("not_found", `Round ${round} holds nothing back.`);
  const isOld = last !== null && last.id !== round && !isSameSet(await heldBy(pool, last.id), resourceIds);
  if (isOld || resourceIds.length !== stops)
    throw new RefusedError(
      "count_differs",
      `By now other stops are held than the ${stops} you saw. Nothing was let go; look at the last round.`,
    );
  await saveApprovedStops(pool, { resourceIds, roundId: round, person: actor.name, at: now, until: now + HOLDS_S });
  await queueRound(pool, { by: actor.name, fleet: null });
}

function isSameSet(one: readonly string[], other: readonly string[]): boolean {
  const known = new Set(one);
  return one.length === other.length && other.every((id) => known.has(id));
}
