import { randomUUID } from "node:crypto";
import { DEFAULT_LIMITS, type Decision, decide } from "@/core/rounds";
import { HOUR_S, type Instant, MINUTE_S } from "@/core/time";
import {
  type Action,
  asLeader,
  endRound,
  failRound,
  fixOwnSizes,
  holdsFrom,
  inTransaction,
  lastActRound,
  lastDueMap,
  openActionList,
  openActionOf,
  type RoundMode,
  recentRefusals,
  recordActions,
  saveActionState,
  saveDecisions,
  saveLastDue,
  signal,
  startRound,
  takeAllowance,
} from "@/store";
import { authorise, type Person, type Services } from "../admin";
import { claimsOf, compileAll, loadWorld, plansInForce, readClouds, type StoredWorld } from "../inventory";
import { settleActions } from "./confirm-actions";
import { sendActions } from "./send-actions";
import { ROUND_LOCK, whenFree } from "./when-free";

const ACTION_DEADLINE_S = 2 * HOUR_S;
export const ROUND_EVERY_S = MINUTE_S;

/** True when a minute of the clock has passed since the last round of any worker. */
export async function isRoundDue(services: Services, person: Person, now: Instant): Promise<boolean> {
  authorise(person, "run rounds");
  const last = await lastActRound(services.pool);
  return !last || now - last.at >= ROUND_EVERY_S || now < last.at;
}

/**
 * One pass: read what is, decide, act. Actions are recorded before they are sent; a round that dies
 * half-way leaves them recorded, and the next one sends them with the same keys. Returns the round's
 * number, or null when another process is in the middle of one.
 */
export async function runRound(services: Services, person: Person, mode: RoundMode): Promise<number | null> {
  authorise(person, "run rounds");
  return asLeader(services.pool, ROUND_LOCK, () => oneRound(services, person, mode));
}

async function oneRound(services: Services, person: Person, mode: RoundMode): Promise<number> {
  const { now } = await services.clock.read();
  const id = await startRound(services.pool, { mode, askedBy: person.name, at: now });
  try {
    await passThrough(services, { id, mode, now });
  } catch (error) {
    // With its place, every time: what failed here is a fault of ours.
    console.error(`round ${id} failed:`, error);
    await failRound(services.pool, id, error instanceof Error ? error.message : String(error));
    throw error;
  } finally {
    await signal(services.pool, "round");
  }
  return id;
}

/** The same, after a round that is under way has ended. Throws a RefusedError when that takes longer than a quarter of a minute. */
export async function runRoundWhenFree(services: Services, person: Person, mode: RoundMode): Promise<number> {
  authorise(person, "run rounds");
  return whenFree(services.pool, () => oneRound(services, person, mode));
}

type Pass = Readonly<{ id: number; mode: RoundMode; now: Instant }>;

async function passThrough(services: Services, { id, mode, now }: Pass): Promise<void> {
  const { pool } = services;
  const startedMs = performance.now();
  const isRehearsal = mode === "rehearse";
  const unread = await readClouds(services, now);
  const world = await worldToDecide(services, now);
  const byId = new Map(world.resources.map((resource) => [resource.id, resource]));
  const unsettled = await openActionList(pool);
  const open = isRehearsal
    ? unsettled
    : await settleActions(
        pool,
        unsettled.filter(({ account }) => !unread.has(account)),
        { resources: byId, now },
      );
  const refused = await recentRefusals(pool, now);
  const decisions = decide({
    now,
    resources: world.schedulable,
    fleets: plansInForce(world),
    schedules: compileAll(world.schedules, world.calendars),
    holds: await holdsFrom(pool, now),
    trips: new Map(),
    lastDue: await lastDueMap(pool),
    openActions: new Map([...refused, ...open].map((action) => [action.resourceId, openActionOf(action)])),
    capabilities: world.capabilities,
    unread,
    limits: { ...DEFAULT_LIMITS, allowedStops: await takeAllowance(pool, { now, roundId: id, isRehearsal }) },
    roundEveryS: ROUND_EVERY_S,
  });
  const changed = await saveDecisions(pool, id, { decisions, isRehearsal });
  const sent = isRehearsal ? 0 : await act(services, { id, now, world, decisions, open });
  // What was just sent shows at once, not only at the next round.
  if (sent > 0) await readClouds(services, now);
  const count = (verdict: Decision["verdict"]) => decisions.filter((decision) => decision.verdict === verdict).length;
  await endRound(pool, id, {
    resources: decisions.length,
    sent: isRehearsal ? count("act") : sent,
    waiting: count("waiting"),
    braked: count("braked"),
    changed,
    unread: Object.fromEntries(unread),
    tookMs: Math.round(performance.now() - startedMs),
  });
}

/** What is stored, with what on means fixed for the groups and services that a plan has for the first time. */
async function worldToDecide(services: Services, now: Instant): Promise<StoredWorld> {
  const world = await loadWorld(services);
  const claims = claimsOf(world);
  const many = world.resources.filter(({ kind }, i) => claims[i] && (kind === "group" || kind === "service"));
  const isNews = await fixOwnSizes(
    services.pool,
    many.map(({ id }) => id),
    now,
  );
  return isNews ? loadWorld(services) : world;
}

type Acting = Readonly<{ id: number; now: Instant; world: StoredWorld; decisions: readonly Decision[]; open: readonly Action[] }>;

async function act({ pool, provider }: Services, { id, now, world, decisions, open }: Acting): Promise<number> {
  const acting = decisions.filter(({ verdict, action }) => verdict === "act" && action);
  const byResource = new Map(acting.map((decision) => [decision.resourceId, decision]));
  const accountOf = new Map(world.resources.map(({ id: resourceId, fields }) => [resourceId, fields.account ?? ""]));

  await inTransaction(pool, async (tx) => {
    for (const action of open) {
      const wanted = byResource.get(action.resourceId)?.action;
      const isUnsent = action.lastAnswer !== "accepted";
      const isOvertaken = wanted
        ? wanted.level !== action.level || wanted.verb !== action.verb
        : isUnsent && isNoLongerWanted(decisions, action);
      if (isOvertaken)
        await saveActionState(tx, action, {
          ...action,
          status: "given up",
          lastAnswer: "overtaken by another decision",
          endedAt: now,
        });
    }
    await recordActions(
      tx,
      acting.map(({ resourceId, action }) => {
        const { verb, level } = action as NonNullable<typeof action>;
        // Random, so that a database that is made anew never meets a key the provider has seen.
        return { key: randomUUID(), resourceId, account: accountOf.get(resourceId) ?? "", verb, level };
      }),
      { roundId: id, at: now, deadline: now + ACTION_DEADLINE_S },
    );
    const onEdges = new Set(world.fleets.filter(({ inForce }) => inForce?.enforce === "edges").map(({ name }) => name));
    const dues = decisions.filter(
      ({ fleet, due, verdict }) => fleet && due !== null && onEdges.has(fleet) && (verdict === "act" || verdict === "as due"),
    );
    await saveLastDue(tx, new Map(dues.map(({ resourceId, due }) => [resourceId, due as NonNullable<typeof due>])));
  });

  // Whatever is recorded and wanted goes out now: this round's, and what an earlier one could not send.
  const toSend = (await openActionList(pool)).filter(
    ({ resourceId, tryAgainAt }) => byResource.has(resourceId) && tryAgainAt <= now,
  );
  const ports = new Map(world.accounts.map((account) => [account.name, provider(account)]));
  return sendActions(pool, toSend, { portOf: (account) => ports.get(account), now });
}

function isNoLongerWanted(decisions: readonly Decision[], action: Action): boolean {
  const verdict = decisions.find(({ resourceId }) => resourceId === action.resourceId)?.verdict;
  return verdict === "as due" || verdict === "left";
}
