import { asLevel } from "@/core/hours";
import { isGuarded, isSchedulable } from "@/core/plan";
import { claimer, type Decision, highestLevel, OVERRIDES } from "@/core/rounds";
import { DAY_S, HOUR_S, type Instant } from "@/core/time";
import {
  addHold,
  endedOverrides,
  endOverridesOn,
  fleetList,
  heldStops,
  inTransaction,
  type NewHold,
  overridesFrom,
  releaseHoldNow,
  resourceList,
  type StoredOverride,
  setHoldEnd,
  signal,
} from "@/store";
import { type Actor, authorise, ESTATE, type FieldIssue, isAllowed, RefusedError, type Scope, type Services } from "../admin";
import { loadSnapshot, plansInForce } from "../inventory";
import { firstRoundOf } from "./impact";
import { queueRound } from "./queue-round";

export const HOLD_DAYS_MAX = 90;

/** What is asked of a hold. `until` null is what one press from a machine's row gives: a few hours. */
export type HoldRequest = Readonly<{
  on: Readonly<{ resourceId: string } | { fleet: string }>;
  level: number;
  until: Instant | null;
  reason: string;
}>;

const ONE_PRESS_S = 4 * HOUR_S;
/** Presses this close together are one. */
const PRESSED_TWICE_S = 5;

/** Places a hold from now on and asks for a round, so that it is acted on at once. Returns it. */
export async function placeHold(services: Services, actor: Actor, request: HoldRequest): Promise<StoredOverride> {
  const { now, rate } = await services.clock.read();
  const target = await targetOf(services, request);
  authorise(actor, "hold", scopeOf(target));
  const until = request.until ?? now + ONE_PRESS_S;
  const issues: FieldIssue[] = [];
  if (request.reason.trim() === "") issues.push({ path: "reason", message: "a word of why is asked for" });
  if (until <= now) issues.push({ path: "until", message: "the end of a hold lies ahead of now" });
  if (until > now + HOLD_DAYS_MAX * DAY_S)
    issues.push({ path: "until", message: `a hold ends within ${HOLD_DAYS_MAX} days: change the hours for longer` });
  if (request.level > target.levelMax)
    issues.push({ path: "level", message: `${target.name} runs at most at level ${target.levelMax}` });
  if (issues.length > 0) throw new RefusedError("invalid", issues[0]?.message ?? "The hold was not placed.", issues);
  const hold: NewHold = {
    resourceId: target.resourceId,
    fleet: target.fleet,
    level: asLevel(request.level),
    from: now,
    to: until,
    reason: request.reason.trim(),
    person: actor.name,
  };
  // A demo's clock may go an hour a second; a second press comes as soon after the first as ever.
  const sameWithinS = PRESSED_TWICE_S * Math.max(1, rate);
  const id = await inTransaction(services.pool, async (tx) => {
    // Who wants it on has ended its trip.
    if (hold.level > 0 && hold.resourceId !== null)
      await endOverridesOn(tx, { kind: "trip", resourceIds: [hold.resourceId], at: now, by: actor.name });
    return addHold(tx, hold, sameWithinS);
  });
  await actOn(services, actor);
  return { ...hold, id, kind: "hold", ruleKey: null, offAction: null, name: target.name, releasedAt: null };
}

type Target = Readonly<{
  resourceId: string | null;
  fleet: string | null;
  name: string;
  levelMax: number;
  /** The fleet that has it. */
  claimedBy: string;
}>;

/** What a hold is about, for whoever may hold a part alone. */
function scopeOf({ resourceId, claimedBy }: Pick<Target, "resourceId" | "claimedBy">): Scope {
  return resourceId === null ? { kind: "fleet", fleet: claimedBy } : { kind: "resource", id: resourceId, fleet: claimedBy };
}

/** What is held; refused where nothing would act on the hold. */
async function targetOf({ pool }: Services, { on }: HoldRequest): Promise<Target> {
  const fleets = await fleetList(pool);
  if ("fleet" in on) {
    const fleet = fleets.find(({ name }) => name === on.fleet);
    if (!fleet) throw new RefusedError("not_found", `There is no fleet ${on.fleet}.`);
    if (!fleet.inForce) throw new RefusedError("invalid", `${fleet.name} is not in force, so nothing would act on the hold.`);
    return { resourceId: null, fleet: fleet.name, name: fleet.name, levelMax: Number.POSITIVE_INFINITY, claimedBy: fleet.name };
  }
  const resource = (await resourceList(pool)).find(({ id }) => id === on.resourceId);
  if (!resource || !isSchedulable(resource)) throw new RefusedError("not_found", `There is no machine ${on.resourceId}.`);
  if (isGuarded(resource)) throw new RefusedError("invalid", `${resource.name} is guarded: nothing touches it, hold or not.`);
  const claim = claimer(plansInForce({ fleets }))(resource);
  if (!claim) {
    throw new RefusedError(
      "invalid",
      `No fleet in force has ${resource.name}, so nothing stops or starts it and there is nothing to hold.`,
    );
  }
  return { resourceId: resource.id, fleet: null, name: resource.name, levelMax: highestLevel(resource), claimedBy: claim.name };
}

/** The machines that a hold would stop at once, by name: those that run, that nothing else holds, and that may be touched. */
export async function stoppedByHold(
  services: Services,
  actor: Actor,
  { fleet, level }: { fleet: string; level: number },
): Promise<readonly string[]> {
  authorise(actor, "look", ESTATE);
  const [{ now }, snapshot] = await Promise.all([services.clock.read(), loadSnapshot(services)]);
  const [holds, before] = await Promise.all([overridesFrom(services.pool, now), firstRoundOf(services, snapshot, now)]);
  const trial: StoredOverride = {
    id: Number.MAX_SAFE_INTEGER,
    kind: "hold",
    ruleKey: null,
    offAction: null,
    resourceId: null,
    fleet,
    name: fleet,
    level: asLevel(level),
    from: now,
    to: now + ONE_PRESS_S,
    reason: "",
    person: actor.name,
    releasedAt: null,
  };
  const stops = (decisions: readonly Decision[]) =>
    new Set(
      decisions.flatMap(({ resourceId, action, verdict }) => (verdict === "act" && action?.level === 0 ? [resourceId] : [])),
    );
  const already = stops(before);
  const held = stops(await firstRoundOf(services, snapshot, now, [trial, ...holds]));
  return snapshot.resources.flatMap(({ id, name }) => (held.has(id) && !already.has(id) ? [name] : []));
}

/** Ends a hold before its time and asks for a round. Throws a RefusedError where it has ended already. */
export async function releaseHold(services: Services, actor: Actor, id: number): Promise<void> {
  const { now } = await services.clock.read();
  await authoriseHold(services, actor, { id, now });
  const isReleased = await releaseHoldNow(services.pool, id, { person: actor.name, at: now });
  if (!isReleased) throw new RefusedError("not_found", "That hold has ended already.");
  await actOn(services, actor);
}

/**
 * Moves the end of a hold, or of a person's start, that is in effect. The same end twice is one. Throws a
 * RefusedError where it has ended, or the end is none.
 */
export async function moveHoldEnd(
  services: Services,
  actor: Actor,
  { id, until }: { id: number; until: Instant },
): Promise<{ until: Instant }> {
  const { now } = await services.clock.read();
  await authoriseHold(services, actor, { id, now });
  if (until <= now) throw new RefusedError("invalid", "The end of a hold lies ahead of now.");
  if (until > now + HOLD_DAYS_MAX * DAY_S)
    throw new RefusedError("invalid", `A hold ends within ${HOLD_DAYS_MAX} days: change the hours for longer.`);
  const isMoved = await setHoldEnd(services.pool, id, { until, at: now });
  if (!isMoved) throw new RefusedError("not_found", "That hold has ended already.");
  await actOn(services, actor);
  return { until };
}

/** Asks for the right on what a hold is on; who may hold anything at all hears that one has ended. */
async function authoriseHold({ pool }: Services, actor: Actor, { id, now }: { id: number; now: Instant }): Promise<void> {
  const hold = (await overridesFrom(pool, now)).find((one) => one.id === id);
  if (!hold || isAllowed(actor, "hold", ESTATE)) return authorise(actor, "hold", ESTATE);
  if (hold.resourceId === null) return authorise(actor, "hold", { kind: "fleet", fleet: hold.fleet ?? "" });
  const [fleets, resources] = await Promise.all([fleetList(pool), resourceList(pool)]);
  const resource = resources.find(({ id: own }) => own === hold.resourceId);
  const fleet = resource ? (claimer(plansInForce({ fleets }))(resource)?.name ?? null) : null;
  authorise(actor, "hold", { kind: "resource", id: hold.resourceId, fleet });
}

async function actOn({ pool }: Services, actor: Actor): Promise<void> {
  await signal(pool, "holds");
  await queueRound(pool, { by: actor.name, fleet: null });
}

export type Holds = Readonly<{
  now: Instant;
  current: readonly StoredOverride[];
  ended: readonly StoredOverride[];
  /** The resources whose stop is held until a person has spoken. */
  held: readonly string[];
}>;

/** The holds in effect, those that end first at the top, and the last that ended. */
export async function holdList(services: Services, actor: Actor): Promise<Holds> {
  authorise(actor, "look", ESTATE);
  const { now } = await services.clock.read();
  const [current, ended, held] = await Promise.all([
    overridesFrom(services.pool, now),
    endedOverrides(services.pool, now),
    heldStops(services.pool),
  ]);
  // What pools have chosen is no hold of anybody's.
  return {
    now,
    current: current.filter(({ kind }) => OVERRIDES[kind].isListed).sort((a, b) => a.to - b.to),
    ended,
    held: [...held.keys()],
  };
}

export type { StoredOverride };
