import type { Calendar, CompiledSchedule, Schedule } from "@/core/hours";
import { type Decision, decideFirstRound, hoursFinder, type Override, ROUND_EVERY_S, withMembers } from "@/core/rounds";
import type { Instant } from "@/core/time";
import { lastDueMap, mixMembers, overridesFrom } from "@/store";
import type { Services } from "../admin";
import { compileAll, plansInForce, resourcesByFleet, type Snapshot } from "../inventory";
import { memberUnits } from "../mix";

/** A fleet in force and how many of its machines follow something. */
export type Follower = Readonly<{ fleet: string; fleetId: number; machines: number }>;

/** The fleets in force, in rank order, with how many machines follow each schedule, by name or by tag. */
export function followersBySchedule(snapshot: Snapshot): Map<string, Follower[]> {
  const find = hoursFinder(compileAll(snapshot.schedules, snapshot.calendars), snapshot.capabilities);
  const members = resourcesByFleet(snapshot);
  const followers = new Map<string, Follower[]>();
  for (const { id, name, inForce } of snapshot.fleets) {
    const counts = new Map<string, number>();
    for (const resource of members.get(name) ?? []) {
      const found = inForce ? find(resource, inForce) : null;
      if (found?.kind === "schedule") add(counts, found.compiled);
    }
    for (const [schedule, machines] of counts) {
      followers.set(schedule, [...(followers.get(schedule) ?? []), { fleet: name, fleetId: id, machines }]);
    }
  }
  return followers;
}

function add(counts: Map<string, number>, { schedule }: CompiledSchedule): void {
  counts.set(schedule.name, (counts.get(schedule.name) ?? 0) + 1);
}

/** `fleets`: all of them, where they are ranked anew. */
export type Change = Readonly<{
  schedules?: readonly Schedule[];
  calendars?: readonly Calendar[];
  fleets?: Snapshot["fleets"];
}>;

/** The stored snapshot as it would be with some schedules and calendars new or changed. */
export function changedSnapshot(snapshot: Snapshot, { schedules = [], calendars = [], fleets }: Change): Snapshot {
  const replace = <T extends { name: string }>(old: readonly T[], changed: readonly T[]) => [
    ...old.filter(({ name }) => !changed.some((one) => one.name === name)),
    ...changed,
  ];
  return {
    ...snapshot,
    schedules: replace(snapshot.schedules, schedules),
    calendars: replace(snapshot.calendars, calendars),
    ...(fleets ? { fleets } : {}),
  };
}

/** What the next round would decide in such a snapshot, with nothing to hold it back: no brake, no limit per account; by the stored holds unless others are given. */
export async function firstRoundOf(
  services: Services,
  snapshot: Snapshot,
  now: Instant,
  given?: readonly Override[],
): Promise<readonly Decision[]> {
  const { pool } = services;
  const [holds, lastDue, members] = await Promise.all([given ?? overridesFrom(pool, now), lastDueMap(pool), mixMembers(pool)]);
  return decideFirstRound({
    now,
    resources: withMembers(snapshot.schedulable, memberUnits(snapshot, members, now)),
    fleets: plansInForce(snapshot),
    schedules: compileAll(snapshot.schedules, snapshot.calendars),
    overrides: holds,
    lastDue,
    capabilities: snapshot.capabilities,
    roundEveryS: ROUND_EVERY_S,
  });
}

export type Impact = Readonly<{
  now: Instant;
  /** Fleets in force that follow what is changed. */
  followers: readonly Follower[];
  /** What the next round would stop and start because of the change, by machine's name. */
  stops: readonly string[];
  /** The same by what they are known by. */
  stopIds: readonly string[];
  starts: readonly string[];
  resizes: readonly string[];
}>;

/** What a change of schedules or calendars does at once: the first round with it beside the one without. */
export async function impactOf(
  services: Services,
  { snapshot, change, now }: { snapshot: Snapshot; change: Change; now: Instant },
): Promise<Impact> {
  const after = changedSnapshot(snapshot, change);
  const changed = new Set((change.schedules ?? []).map(({ name }) => name));
  for (const { name, calendar } of after.schedules) {
    if (change.calendars?.some((one) => one.name === calendar)) changed.add(name);
  }
  const followers = [...followersBySchedule(after)].flatMap(([schedule, list]) => (changed.has(schedule) ? list : []));
  const [asItIs, withChange] = await Promise.all([firstRoundOf(services, snapshot, now), firstRoundOf(services, after, now)]);
  const before = new Map(asItIs.map((decision) => [decision.resourceId, decision.action?.level]));
  const news = withChange.filter(
    ({ resourceId, verdict, action }) => verdict === "act" && action && before.get(resourceId) !== action.level,
  );
  const names = new Map(snapshot.resources.map(({ id, name }) => [id, name]));
  const pick = (test: (decision: Decision) => boolean) =>
    news.filter(test).map(({ resourceId }) => names.get(resourceId) ?? resourceId);
  const isStop = ({ action }: Decision) => action?.level === 0;
  return {
    now,
    followers: mergedByFleet(followers),
    stops: pick(isStop),
    stopIds: news.filter(isStop).map(({ resourceId }) => resourceId),
    starts: pick(({ action }) => action?.verb === "start"),
    resizes: pick(({ action }) => action?.verb === "resize" && action.level > 0),
  };
}

function mergedByFleet(followers: readonly Follower[]): Follower[] {
  const merged = new Map<number, Follower>();
  for (const follower of followers) {
    const known = merged.get(follower.fleetId);
    merged.set(follower.fleetId, known ? { ...known, machines: known.machines + follower.machines } : follower);
  }
  return [...merged.values()];
}
