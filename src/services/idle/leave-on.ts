import { asLevel, OFF } from "@/core/hours";
import { isGuarded, type Resource } from "@/core/plan";
import { highestLevel, ownSizeOf, zoneOf } from "@/core/rounds";
import { HOUR_S, type Instant } from "@/core/time";
import {
  type AlarmChange,
  addAlarmChanges,
  addHold,
  addJob,
  alarmChanges,
  endOverridesOn,
  inTransaction,
  lockLink,
  maybeAlarmChange,
  overridesFrom,
  signal,
} from "@/store";
import { readClaim, type Services, signClaim } from "../admin";
import { claimsOf, loadSnapshot } from "../inventory";

/** How long a press leaves a machine on, and how long the link can be pressed. */
export const LEAVE_ON_HOURS = 2;
/** Whose doing a press is: whoever holds the mail. */
const LINK_PERSON = "its owner";
const LINK_S = 24 * HOUR_S;

/** The address of the page that leaves a machine on, for one warning or trip. */
export async function leaveOnLink(
  { pool, url }: Services,
  { resourceId, change, at }: { resourceId: string; change: number; at: Instant },
): Promise<string> {
  const token = await signClaim(pool, { what: "leave on", resourceId, change, hours: LEAVE_ON_HOURS, until: at + LINK_S });
  return `${url}/leave-on?token=${token}`;
}

/** What a press would do, or why it would do nothing. */
export type LeaveOnView =
  | Readonly<{
      ok: true;
      name: string;
      fleet: string;
      /** What it was sent for. */
      why: string;
      state: AlarmChange["state"];
      /** Whether it runs at present. */
      isOn: boolean;
      hours: number;
      now: Instant;
      until: Instant;
      zone: string;
      /** It was pressed before: it is on until then. */
      isDone: boolean;
    }>
  | Readonly<{ ok: false; reason: string }>;

type Found = Readonly<{ view: Extract<LeaveOnView, { ok: true }>; resource: Resource; level: number; change: AlarmChange }>;

/** Opening the link changes nothing: mail programs open links by themselves. */
export async function viewLeaveOn(services: Services, token: string): Promise<LeaveOnView> {
  const found = await lookUp(services, token);
  return "view" in found ? found.view : found;
}

async function lookUp(services: Services, token: string): Promise<Found | Extract<LeaveOnView, { ok: false }>> {
  const { pool } = services;
  const { now } = await services.clock.read();
  const read = await readClaim(pool, token, now);
  if (!read.ok || read.claim.what !== "leave on") {
    const isOld = !read.ok && read.reason === "expired";
    return {
      ok: false,
      reason: isOld ? "This link has expired. Whoever looks after the fleet can start the machine." : "This is no link of ours.",
    };
  }
  const { resourceId, change: id, hours } = read.claim;
  const [snapshot, change, holds] = await Promise.all([
    loadSnapshot(services),
    maybeAlarmChange(pool, id),
    overridesFrom(pool, now),
  ]);
  const at = snapshot.resources.findIndex((one) => one.id === resourceId);
  const resource = snapshot.resources[at];
  if (!resource || !change) return { ok: false, reason: "That machine is gone." };
  const claim = claimsOf(snapshot)[at] ?? null;
  if (!claim || isGuarded(resource))
    return { ok: false, reason: `${resource.name} is not looked after by a fleet any more: nothing stops it.` };
  const placed = holds.find((hold) => hold.resourceId === resourceId && hold.ruleKey === linkKey(id));
  const isUsed = placed !== undefined || (await wasPressed(services, change));
  if (isUsed && !placed)
    return {
      ok: false,
      reason: `This link was used, and its ${hours} hours are over. Start ${resource.name} again if you need it.`,
    };
  const level = Math.min(ownSizeOf(resource, claim.plan), highestLevel(resource));
  // A link never shortens: of two ends the later one counts.
  const held = holds.filter((hold) => hold.kind === "hold" && hold.resourceId === resourceId && hold.level > 0);
  const until = placed?.to ?? Math.max(now + hours * HOUR_S, ...held.map(({ to }) => to));
  return {
    resource,
    level,
    change,
    view: {
      ok: true,
      name: resource.name,
      fleet: claim.plan.name,
      why: change.words,
      state: change.state,
      isOn: resource.level > OFF,
      hours,
      now,
      until,
      zone: zoneOf(resource, snapshot.capabilities) ?? "UTC",
      isDone: placed !== undefined,
    },
  };
}

/** What a hold and a change are found again by that came of the link of one warning. */
function linkKey(change: number): string {
  return `link ${change}`;
}

function reasonOf(change: number): string {
  return `left on by the link of warning ${change}`;
}

async function wasPressed({ pool }: Services, { id, resourceId, at }: AlarmChange): Promise<boolean> {
  const since = await alarmChanges(pool, { resourceId, from: at, limit: 500 });
  return since.some(({ state, ruleKey }) => state === "left on" && ruleKey === linkKey(id));
}

/** Leaves the machine on: its signature is all the right that is asked for. Pressed twice it does it once. */
export async function followLeaveOn(services: Services, token: string): Promise<LeaveOnView> {
  const { pool } = services;
  const isNew = await inTransaction(pool, async (tx) => {
    await lockLink(tx, token);
    const found = await lookUp(services, token);
    if (!("view" in found) || found.view.isDone) return false;
    const { resource, level, change, view } = found;
    await endOverridesOn(tx, { kind: "trip", resourceIds: [resource.id], at: view.now, by: LINK_PERSON });
    const hold = {
      resourceId: resource.id,
      fleet: null,
      level: asLevel(level),
      from: view.now,
      to: view.until,
      reason: reasonOf(change.id),
    };
    await addHold(tx, { ...hold, person: LINK_PERSON, ruleKey: linkKey(change.id) }, 0);
    const { resourceId, fleet, words } = change;
    await addAlarmChanges(
      tx,
      [
        {
          at: view.now,
          resourceId,
          fleet,
          ruleKey: linkKey(change.id),
          words,
          state: "left on",
          reason: { code: "said", words: reasonOf(change.id) },
          samples: null,
        },
      ],
      () => true,
    );
    return true;
  });
  if (isNew) {
    await signal(pool, "holds");
    await addJob(pool, "round", { payload: { by: LINK_PERSON, fleet: null } });
  }
  return viewLeaveOn(services, token);
}
