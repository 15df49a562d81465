import { ROUND_EVERY_S } from "@/core/rounds";
import { log } from "@/log";
import { asLeader, failRound, type Lead, LostLeadError, lastActRound, type RoundMode, signal, startRound } from "@/store";
import { type Actor, authorise, ESTATE, isAllowed, reasonOf, type Services } from "../admin";
import { takeSteps } from "./steps";
import { ROUNDS, whenFree } from "./when-free";

/** What is asked of a round: `fleet` alone, or everything where it is null. */
export type RoundAsked = Readonly<{ mode: RoundMode; fleet?: string | null }>;

/** True when a minute of the clock has passed since the last round of any worker, or a clock waits for one. */
async function isRoundDue(services: Services): Promise<boolean> {
  const [{ now, waitAt }, last] = await Promise.all([services.clock.read(), lastActRound(services.pool)]);
  return !last || now - last.at >= ROUND_EVERY_S || now < last.at || (now === waitAt && last.at < now);
}

/** A round, if one is due by the clock. Returns its number, or null where none is, or another process runs it. */
export async function runDueRound(services: Services, actor: Actor): Promise<number | null> {
  authorise(actor, "work", ESTATE);
  if (!(await isRoundDue(services))) return null;
  return asLeader(services.pool, ROUNDS, async (lead) =>
    // Another may have run it between the look and the lead.
    (await isRoundDue(services)) ? oneRound(services, actor, { lead, mode: "act", fleet: null }) : null,
  );
}

/**
 * One pass: read what is, decide, act. Actions are recorded before they are sent; a round that dies
 * half-way leaves them recorded, and the next one sends them with the same keys. Returns the round's
 * number, or null when another process is in the middle of one.
 */
export async function runRound(services: Services, actor: Actor, mode: RoundMode): Promise<number | null> {
  mayRun(actor);
  return asLeader(services.pool, ROUNDS, (lead) => oneRound(services, actor, { lead, mode, fleet: null }));
}

/** The same, after a round that is under way has ended. Throws a RefusedError when that takes longer than a quarter of a minute. */
export async function runRoundWhenFree(services: Services, actor: Actor, { mode, fleet = null }: RoundAsked): Promise<number> {
  mayRun(actor);
  return whenFree(services.pool, (lead) => oneRound(services, actor, { lead, mode, fleet }));
}

/** Rounds are the worker's duty, and a person may ask for one. */
function mayRun(actor: Actor): void {
  if (!isAllowed(actor, "work", ESTATE)) authorise(actor, "ask for rounds", ESTATE);
}

type Asked = Readonly<{ lead: Lead; mode: RoundMode; fleet: string | null }>;

async function oneRound(services: Services, actor: Actor, { lead, mode, fleet }: Asked): Promise<number> {
  const { now } = await services.clock.read();
  const startedMs = performance.now();
  const id = await startRound(services.pool, { mode, askedBy: actor.name, at: now, fleet });
  try {
    await takeSteps({ services, id, lead, mode, fleet, now, startedMs });
  } catch (error) {
    if (error instanceof LostLeadError)
      log.warn({ round: id }, "another leads now: the round ends, and nothing more of it is done");
    // With its place, every time: what failed here is a fault of ours.
    else log.error({ err: error, round: id }, "a round failed");
    await failRound(services.pool, id, reasonOf(error));
    throw error;
  } finally {
    await signal(services.pool, "round");
  }
  return id;
}
