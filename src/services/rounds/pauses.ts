import { accountList, addPause, endPause, type Pause, pauseList, signal } from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { queueRound } from "./queue-round";

export type { Pause };

/** The pauses that stand, the one for everything first. */
export async function pauses(services: Services, actor: Actor): Promise<Pause[]> {
  authorise(actor, "look", ESTATE);
  return pauseList(services.pool);
}

/** From now on rounds look and decide, and do nothing: anywhere, or in one account. Twice does it once. */
export async function pauseRounds(
  services: Services,
  actor: Actor,
  { account, reason }: { account: string | null; reason: string },
): Promise<void> {
  authorise(actor, "pause rounds", account === null ? ESTATE : { kind: "account", account });
  const { pool } = services;
  if (reason.trim() === "")
    throw new RefusedError("invalid", "A word of why is asked for.", [{ path: "reason", message: "say why" }]);
  if (account !== null && !(await accountList(pool)).some(({ name }) => name === account))
    throw new RefusedError("not_found", `There is no account ${account}.`);
  const { now } = await services.clock.read();
  await addPause(pool, { account, reason: reason.trim(), person: actor.name, at: now });
  await signal(pool, "round");
}

/** Ends a pause and asks for a round, which does what is due by now. */
export async function resumeRounds(services: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "pause rounds", ESTATE);
  const { now } = await services.clock.read();
  const isEnded = await endPause(services.pool, id, { person: actor.name, at: now });
  if (!isEnded) throw new RefusedError("not_found", "That pause has ended already.");
  await queueRound(services.pool, { by: actor.name, fleet: null });
  await signal(services.pool, "round");
}
