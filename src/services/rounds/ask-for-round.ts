import type { Instant } from "@/core/time";
import { fleetList, type RoundMode } from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { queueRound } from "./queue-round";
import { rehearseAt } from "./rehearse-at";
import { runRoundWhenFree } from "./run-round";

export type { Job } from "@/store";

/** `fleet`: its machines alone. `at`: a rehearsal of another instant than now. */
export type RoundRequest = Readonly<{ mode: RoundMode; fleet?: string | undefined; at?: Instant | undefined }>;

/**
 * A rehearsal runs at once and comes back with its number. A round that acts is put on the queue,
 * so that it goes on when the page is left; its number is known when it starts.
 */
export async function askForRound(services: Services, actor: Actor, request: RoundRequest): Promise<{ id: number | null }> {
  authorise(actor, "ask for rounds", ESTATE);
  const fleet = request.fleet ?? null;
  if (fleet !== null && !(await fleetList(services.pool)).some(({ name, inForce }) => name === fleet && inForce))
    throw new RefusedError("not_found", `No fleet in force is named ${fleet}.`);
  if (request.at !== undefined) {
    if (request.mode === "act")
      throw new RefusedError("invalid", "A round acts as of now; as of another time it can be rehearsed.");
    return { id: await rehearseAt(services, actor, { at: request.at, fleet }) };
  }
  if (request.mode === "rehearse") return { id: await runRoundWhenFree(services, actor, { mode: "rehearse", fleet }) };
  await queueRound(services.pool, { by: actor.name, fleet });
  return { id: null };
}
