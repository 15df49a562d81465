import type { Level } from "@/core/hours";
import { type Decision, ROUND_EVERY_S } from "@/core/rounds";
import type { Instant } from "@/core/time";
import { endRound, failRound, mixMembers, saveDecisions, signal, startRound } from "@/store";
import { type Actor, authorise, ESTATE, reasonOf, type Services } from "../admin";
import { type SnapshotAt, snapshotAt } from "../inventory";
import { countsOf } from "./counts";
import { decideOn, decisionFacts } from "./round-input";
import { NOTHING_TRIED } from "./send-actions";
import { whenFree } from "./when-free";

export type RehearsedAt = Readonly<{ at: Instant; fleet: string | null }>;

/**
 * What a round at another instant did or would do: it finds what there is a minute before, and goes by the plans,
 * schedules, calendars and holds of the instant. It is kept as a rehearsal; returns its number.
 */
export async function rehearseAt(services: Services, actor: Actor, { at, fleet }: RehearsedAt): Promise<number> {
  authorise(actor, "ask for rounds", ESTATE);
  const { pool } = services;
  const startedMs = performance.now();
  const [before, then] = await Promise.all([snapshotAt(services, at - ROUND_EVERY_S), snapshotAt(services, at)]);
  const members = await mixMembers(pool);
  const decided = async (snapshot: SnapshotAt, lastDue: ReadonlyMap<string, Level>) => {
    const { at: now, holds: overrides } = snapshot;
    const state = {
      snapshot,
      now,
      overrides,
      members,
      open: [],
      held: new Map(),
      closed: new Map(),
      isRehearsal: true,
      fleet,
      before: now - ROUND_EVERY_S,
    };
    // What was refused since, and acted on since, is of now and not of then.
    return decideOn(state, { ...(await decisionFacts(services, state)), refused: [], lastDue });
  };
  const earlier = await decided(before, new Map());
  const { decisions } = await decided(
    { ...then, resources: before.resources, schedulable: before.schedulable },
    new Map(earlier.decisions.flatMap(({ resourceId, due }) => (due === null ? [] : [[resourceId, due]]))),
  );
  return whenFree(pool, () => kept(services, actor, { at: then.at, fleet, decisions, askedAt: then.now, startedMs }));
}

type Kept = RehearsedAt & Readonly<{ askedAt: Instant; startedMs: number; decisions: readonly Decision[] }>;

async function kept({ pool }: Services, actor: Actor, { at, fleet, decisions, askedAt, startedMs }: Kept): Promise<number> {
  const id = await startRound(pool, { mode: "rehearse", askedBy: actor.name, at, fleet, askedAt });
  try {
    const changed = await saveDecisions(pool, id, { decisions, isRehearsal: true });
    const { act: sent, ...counts } = countsOf(decisions);
    await endRound(pool, id, {
      ...counts,
      ...NOTHING_TRIED,
      sent,
      changed,
      unread: {},
      tookMs: Math.round(performance.now() - startedMs),
    });
  } catch (error) {
    await failRound(pool, id, reasonOf(error));
    throw error;
  } finally {
    await signal(pool, "round");
  }
  return id;
}
