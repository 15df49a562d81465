import { accountList, addJob, addPause, endPause, type Pause, pauseList, signal } from "@/store";
import { authorise, type Person, RefusedError, type Services } from "../admin";

export type { Pause };

/** The pauses that stand, the one for everything first. */
export async function pauses(services: Services, person: Person): Promise<Pause[]> {
  authorise(person, "look");
  return pauseList(services.pool);
}

/** From now on rounds look and decide, and do nothing: anywhere, or in one account. Twice does it once. */
export async function pauseRounds(
  services: Services,
  person: Person,
  { account, reason }: { account: string | null; reason: string },
): Promise<void> {
  authorise(person, "stop");
  const { pool } = services;
  if (reason.trim() === "")
    throw new RefusedError("invalid", "A word of why is asked for.", [{ path: "reason", message: "say why" }]);
  if (account !== null && !(await accountList(pool)).some(({ name }) => name === account))
    throw new RefusedError("not_found", `There is no account ${account}.`);
  const { now } = await services.clock.read();
  await addPause(pool, { account, reason: reason.trim(), person: person.name, at: now });
  await signal(pool, "round");
}

/** Ends a pause and asks for a round, which does what is due by now. */
export async function resumeRounds(services: Services, person: Person, id: number): Promise<void> {
  authorise(person, "run rounds");
  const { now } = await services.clock.read();
  const isEnded = await endPause(services.pool, id, { person: person.name, at: now });
  if (!isEnded) throw new RefusedError("not_found", "That pause has ended already.");
  await addJob(services.pool, "round");
  await signal(services.pool, "round");
}
