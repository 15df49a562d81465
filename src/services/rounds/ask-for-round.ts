import { MINUTE_S } from "@/core/time";
import { addJob, allowStops, type RoundMode } from "@/store";
import { authorise, type Person, type Services } from "../admin";
import { runRoundWhenFree } from "./run-round";

export type { Job } from "@/store";

export type RoundRequest = Readonly<{ mode: RoundMode; allowStops?: number | undefined }>;

/**
 * A rehearsal runs at once and comes back with its number. A round that acts is put on the queue,
 * so that it goes on when the page is left; its number is known when it starts.
 */
export async function askForRound(services: Services, person: Person, request: RoundRequest): Promise<{ id: number | null }> {
  authorise(person, "run rounds");
  if (request.mode === "rehearse") return { id: await runRoundWhenFree(services, person, "rehearse") };
  if (request.allowStops !== undefined) {
    const { now } = await services.clock.read();
    await allowStops(services.pool, { stops: request.allowStops, person: person.name, until: now + 10 * MINUTE_S });
  }
  await addJob(services.pool, "round");
  return { id: null };
}
