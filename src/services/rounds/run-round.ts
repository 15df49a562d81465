import { randomUUID } from "node:crypto";
import { type Decision, type HoursSeen, ROUND_EVERY_S } from "@/core/rounds";
import { formatInstant, HOUR_S, type Instant } from "@/core/time";
import { log } from "@/log";
import {
  type Action,
  addStarts,
  asLeader,
  endRound,
  failRound,
  fixOwnSizes,
  type Lead,
  LostLeadError,
  lastActRound,
  lastFullRound,
  openActionList,
  overridesFrom,
  type PoolClient,
  type RoundMode,
  readStamps,
  recordActions,
  saveActionState,
  saveDecisions,
  saveHoursSeen,
  saveLastDue,
  signal,
  startRound,
  whileLeading,
} from "@/store";
import { type Actor, authorise, ESTATE, isAllowed, type Services, WORKER } from "../admin";
import { metricsWatched, watchIdle } from "../idle";
import { claimsOf, loadWorld, readClouds, type StoredWorld } from "../inventory";
import { pullLatest, readLatest } from "../metrics";
import { keepMixes } from "../mix";
import { keepReady, poolsOf, SESSION_METRICS, startsForSignIns } from "../ready";
import { settleActions } from "./confirm-actions";
import { countsOf } from "./counts";
import { asHolds, endStartsOfOff, startsToKeep } from "./keep-starts";
import { type Decided, decideNow } from "./round-input";
import { NOTHING_TRIED, sendActions, type Tried } from "./send-actions";
import { ROUNDS, whenFree } from "./when-free";

const ACTION_DEADLINE_S = 2 * HOUR_S;
/** How long a round goes on sending; what is left goes with the next one. */
const SENDING_MS = 25_000;

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
  const id = await startRound(services.pool, { mode, askedBy: actor.name, at: now, fleet });
  try {
    await passThrough(services, { id, lead, mode, fleet, now });
  } catch (error) {
    if (error instanceof LostLeadError)
      log.warn({ round: id }, "another leads now: the round ends, and nothing more of it is done");
    // With its place, every time: what failed here is a fault of ours.
    else log.error({ err: error, round: id }, "a round failed");
    await failRound(services.pool, id, error instanceof Error ? error.message : String(error));
    throw error;
  } finally {
    await signal(services.pool, "round");
  }
  return id;
}

type Pass = Asked & Readonly<{ id: number; now: Instant }>;

async function passThrough(services: Services, pass: Pass): Promise<void> {
  const { pool } = services;
  const { id, lead, mode, fleet, now } = pass;
  const startedMs = performance.now();
  const isRehearsal = mode === "rehearse";
  const [closed] = await Promise.all([readClouds(services, now, { lead }), readWatched(services, now)]);
  // Read first: whatever speaks against an action later than this is looked at before it is sent.
  let { rules } = await readStamps(pool);
  const world = await worldToDecide(services, now);
  const byId = new Map(world.resources.map((resource) => [resource.id, resource]));
  const unsettled = await openActionList(pool);
  const settled = isRehearsal
    ? unsettled
    : await whileLeading(pool, lead, (tx) =>
        settleActions(
          tx,
          unsettled.filter(({ account }) => !closed.has(account)),
          { resources: byId, now },
        ),
      );
  if (!isRehearsal && (await watchIdle(services, { world, lead, now }))) ({ rules } = await readStamps(pool));
  const asked = { now, open: settled, closed, isRehearsal, fleet };
  if (!isRehearsal)
    await whileLeading(pool, lead, async (tx) => endStartsOfOff(tx, { world, holds: await overridesFrom(tx, now), now }));
  const signIns = isRehearsal ? [] : await startsForSignIns(pool, { world, now });
  if (signIns.length > 0) {
    await whileLeading(pool, lead, (tx) => addStarts(tx, signIns));
    await signal(pool, "holds");
    ({ rules } = await readStamps(pool));
  }
  if (!isRehearsal && (await keepReady(services, { world, lead, now }))) ({ rules } = await readStamps(pool));
  let { decisions, seen, wanted } = await decideNow(services, { ...asked, world });
  const starts = await startsToKeep(pool, { world, decisions, now });
  if (starts.length > 0) {
    if (!isRehearsal) {
      await whileLeading(pool, lead, (tx) => addStarts(tx, starts));
      await signal(pool, "holds");
      ({ rules } = await readStamps(pool));
    }
    ({ decisions, seen, wanted } = await decideNow(services, { ...asked, world, holds: isRehearsal ? asHolds(starts) : [] }));
  }
  const changed = await whileLeading(pool, lead, (tx) => saveDecisions(tx, id, { decisions, isRehearsal }));
  const again = async () => (await decideNow(services, { ...asked, world: await loadWorld(services) })).decisions;
  const { sent, ...tries } = isRehearsal
    ? NOTHING_TRIED
    : await act(services, pass, { world, decisions, wanted, seen, open: settled, rules, again });
  const kept = isRehearsal ? 0 : await keep(services, pass, { world, decisions, wanted, closed, rules });
  const { act: wouldSend, ...counts } = countsOf(decisions);
  const end = {
    ...counts,
    ...tries,
    sent: isRehearsal ? wouldSend : sent + kept,
    changed,
    unread: Object.fromEntries(closed),
    tookMs: Math.round(performance.now() - startedMs),
  };
  await endRound(pool, id, end);
  log.info({ round: id, mode, fleet, at: formatInstant(now), ...end }, "a round ended");
}

/** What is new of the metrics that alarms in force look at, and what sources are asked for. */
async function readWatched(services: Services, now: Instant): Promise<void> {
  const world = await loadWorld(services);
  const { metrics, accounts } = metricsWatched(world);
  const pooled = new Set(poolsOf(world, now).flatMap(({ members }) => members.map(({ fields }) => fields.account)));
  const names = new Set(accounts.map(({ name }) => name));
  const asked = {
    metrics: [...new Set([...metrics, ...(pooled.size > 0 ? SESSION_METRICS : [])])],
    accounts: world.accounts.filter(({ name }) => names.has(name) || pooled.has(name)),
    now,
  };
  await Promise.all([readLatest(services, asked), pullLatest(services, WORKER, now)]);
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

type Acting = Decided &
  Readonly<{
    world: StoredWorld;
    open: readonly Action[];
    /** The counter of what may speak against them, from before they were made. */
    rules: string;
    /** Makes them anew by what is stored now. */
    again: () => Promise<readonly Decision[]>;
  }>;

async function act(services: Services, { id, lead, now }: Pass, acting: Acting): Promise<Tried> {
  const { pool, provider, clock } = services;
  const { world, decisions, seen, open, rules } = acting;
  const wanted = decisions.filter(({ verdict, action }) => verdict === "act" && action);
  const byResource = new Map(decisions.map((decision) => [decision.resourceId, decision]));
  const accountOf = new Map(world.resources.map(({ id: resourceId, fields }) => [resourceId, fields.account ?? ""]));

  await whileLeading(pool, lead, async (tx) => {
    await endOvertaken(tx, { open, decisions: byResource, now });
    await recordActions(
      tx,
      wanted.map(({ resourceId, action, due, isUnforeseen }) => {
        const { verb, level } = action as NonNullable<typeof action>;
        // Random, so that a database that is made anew never meets a key the provider has seen.
        return { key: randomUUID(), resourceId, account: accountOf.get(resourceId) ?? "", verb, level, due, isUnforeseen };
      }),
      { roundId: id, at: now, deadline: now + ACTION_DEADLINE_S },
    );
    await rememberHours(tx, world, { decisions, seen });
  });

  // Whatever is recorded and wanted goes out now: this round's, and what an earlier one could not send.
  const toSend = (await openActionList(pool)).filter(
    ({ resourceId, tryAgainAt }) => byResource.get(resourceId)?.verdict === "act" && tryAgainAt <= now,
  );
  const signal = AbortSignal.timeout(SENDING_MS);
  const ports = new Map(world.accounts.map((account) => [account.name, provider(account, signal)]));
  const tried = await sendActions(pool, toSend, {
    lead,
    clock,
    portOf: (account) => ports.get(account),
    decidedAt: now,
    whyNot: secondLook({ byResource, again: acting.again }, rules),
    signal,
  });
  // What was just sent shows at once, not only at the next round.
  if (tried.sent > 0) await readClouds(services, now, { lead, only: new Set(toSend.map(({ account }) => account)) });
  return tried;
}

type KeepingAll = Pick<Acting, "world" | "decisions" | "wanted" | "rules"> & Readonly<{ closed: ReadonlyMap<string, string> }>;

/** Keeps groups at their mixes. What was just asked for shows at once. Returns how often something was. */
async function keep(services: Services, { id, lead, now }: Pass, all: KeepingAll): Promise<number> {
  const { world, decisions, ...rest } = all;
  const asDue = new Set(decisions.flatMap(({ resourceId, verdict }) => (verdict === "as due" ? [resourceId] : [])));
  const signal = AbortSignal.timeout(SENDING_MS);
  const ports = new Map(world.accounts.map((account) => [account.name, services.provider(account, signal)]));
  const before = (await lastFullRound(services.pool))?.at ?? now - ROUND_EVERY_S;
  const portOf = (account: string) => ports.get(account);
  const asked = await keepMixes(services, { ...rest, world, asDue, lead, roundId: id, now, before, portOf, signal });
  if (asked.accounts.size > 0) await readClouds(services, now, { lead, only: asked.accounts });
  return asked.count;
}

type ByResource = ReadonlyMap<string, Decision>;

/** True where just this is to be done by a decision. In doubt it is not. */
function isWanted(action: Action, decision: Decision | undefined): boolean {
  const wanted = decision?.verdict === "act" ? decision.action : null;
  return wanted?.verb === action.verb && wanted.level === action.level;
}

type Looking = Readonly<{ byResource: ByResource; again: Acting["again"] }>;

/** Says why an action is not wanted any more. Only where the rules have moved is anything decided anew, once for all that are sent. */
function secondLook({ byResource, again }: Looking, first: string): (action: Action, rules: string) => Promise<string | null> {
  let known: { rules: string; decisions: Promise<ByResource> } = { rules: first, decisions: Promise.resolve(byResource) };
  return async (action, rules) => {
    if (rules !== known.rules) {
      const decisions = again().then((list) => new Map(list.map((decision) => [decision.resourceId, decision])));
      known = { rules, decisions };
    }
    const decision = (await known.decisions).get(action.resourceId);
    return isWanted(action, decision) ? null : (decision?.why ?? "no fleet in force has it any more");
  };
}

type Overtaking = Readonly<{ open: readonly Action[]; decisions: ByResource; now: Instant }>;

/** Ends what an earlier round recorded and this one does not want, or wants otherwise. What was accepted is on its way. */
async function endOvertaken(tx: PoolClient, { open, decisions, now }: Overtaking): Promise<void> {
  for (const action of open) {
    const decision = decisions.get(action.resourceId);
    // Where it waits, what was asked for stands; a round of one fleet says nothing of others.
    if (!decision || decision.verdict === "waiting" || isWanted(action, decision)) continue;
    if (decision.verdict !== "act" && action.lastAnswer === "accepted") continue;
    const lastAnswer = `overtaken by another decision: ${decision.why}`;
    await saveActionState(tx, action, { ...action, status: "given up", lastAnswer, endedAt: now });
  }
}

/** What hours said, for the next round to see them fall; and what is as due already, for fleets that act on edges. */
async function rememberHours(
  tx: PoolClient,
  world: StoredWorld,
  { decisions, seen: before }: Omit<Decided, "wanted">,
): Promise<void> {
  // The same object where nothing is new.
  const isNews = ({ resourceId, seen }: Decision) => seen !== null && seen !== before.get(resourceId);
  const news = decisions.filter(isNews).map(({ resourceId, seen }) => [resourceId, seen as HoursSeen] as const);
  const free = decisions.filter(({ resourceId, seen }) => !seen && before.has(resourceId)).map(({ resourceId }) => resourceId);
  await saveHoursSeen(tx, new Map(news), free);
  const onEdges = new Set(world.fleets.filter(({ inForce }) => inForce?.enforce === "edges").map(({ name }) => name));
  const asDue = decisions.filter(
    ({ fleet, due, verdict }) => fleet && due !== null && onEdges.has(fleet) && verdict === "as due",
  );
  await saveLastDue(tx, new Map(asDue.map(({ resourceId, due }) => [resourceId, due as NonNullable<typeof due>])));
}
