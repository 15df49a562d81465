import { type Calendar, scheduleToFile } from "@/core/hours";
import { changedKeys, type FleetDraft, fleetDraftSchema, type ScheduleDraft } from "@/core/plan";
import { claimerAbove } from "@/core/rounds";
import { matcher, tryParseSelector } from "@/core/selector";
import type { Instant } from "@/core/time";
import {
  addFleet,
  calendarList,
  type Fleet,
  MISSING_AFTER_S,
  type MissingStart,
  maybeFleet,
  missingStarts,
  overridesFrom,
  type PlanVersion,
  planVersionList,
  type StoredOverride,
  saveDraft,
  scheduleList,
  signal,
  type Writing,
} from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services, visibleTo } from "../admin";
import { type ProjectionCheck, projectionCheck } from "../cost";
import { knownMetrics } from "../idle";
import { loadSnapshot, regionPlaces, snapshotFor } from "../inventory";
import { type Follower, followersBySchedule } from "../rounds";

/** A fleet as the list shows it. */
export type FleetSummary = Readonly<{
  id: number;
  name: string;
  select: string;
  hours: string;
  isInForce: boolean;
  hasChanges: boolean;
  matches: number;
  running: number;
  /** How many of it should be on by now and are not. */
  missing: number;
  /** Matched, but a higher-ranked fleet in force has them. */
  claimedByOthers: number;
  selectorError: string | null;
  version: number;
  /** Since when it is out of use; null for one in use. */
  retiredAt: Instant | null;
}>;

/** Every fleet in rank order with what it matches, now or as of another instant; those out of use after the others. */
export async function fleetSummaries(services: Services, actor: Actor, at: Instant | null = null): Promise<FleetSummary[]> {
  authorise(actor, "look", ESTATE);
  const snapshot = await snapshotFor(services, actor, at);
  const visible = visibleTo(actor);
  const missing = snapshot.tense === "now" ? await missingStarts(services.pool, snapshot.now - MISSING_AFTER_S) : [];
  const isUsed = (fleet: Fleet) => fleet.inForce !== null || fleet.retiredAt === null || fleet.retiredAt > snapshot.at;
  const fleets = snapshot.fleets.filter(visible.fleet);
  return [...fleets.filter(isUsed), ...fleets.filter((fleet) => !isUsed(fleet))].map((fleet) => {
    const plan = fleet.inForce ?? fleet.draft;
    const parsed = tryParseSelector(plan.select);
    const matched = parsed.ok ? snapshot.schedulable.filter(matcher(parsed.selector)) : [];
    const claim = claimerAbove(snapshot.fleets, fleet.rank);
    return {
      id: fleet.id,
      name: fleet.name,
      select: plan.select,
      hours:
        plan.hours === undefined || plan.hours === null
          ? ""
          : typeof plan.hours === "string"
            ? plan.hours
            : `from tag ${plan.hours.fromTag}`,
      isInForce: fleet.inForce !== null,
      hasChanges: hasChanges(fleet),
      matches: matched.length,
      missing: missing.filter((one) => one.fleet === fleet.name).length,
      running: matched.filter(({ level }) => level > 0).length,
      claimedByOthers: matched.filter((resource) => claim(resource) !== null).length,
      selectorError: parsed.ok ? null : parsed.error.message,
      version: fleet.version,
      retiredAt: isUsed(fleet) ? null : fleet.retiredAt,
    };
  });
}

/** True where the draft says something else than the plan in force. */
export function hasChanges({ draft, inForce }: Pick<Fleet, "draft" | "inForce">): boolean {
  return changedKeys(draft, inForce)?.length !== 0;
}

export type OpenFleet = Readonly<{
  fleet: Fleet;
  versions: readonly PlanVersion[];
  /** As a plan file writes them: plain data for a browser. */
  schedules: readonly ScheduleDraft[];
  calendars: readonly Calendar[];
  /** Region to the zone where its people live. */
  regionZones: Readonly<Record<string, string>>;
  /** Holds on the whole fleet, in effect or to come. */
  holds: readonly StoredOverride[];
  /** Which fleets in force follow each schedule, by its name. */
  followers: Readonly<Record<string, readonly Follower[]>>;
  /** What of it should be on by now and is not. */
  missing: readonly MissingStart[];
  /** How its projection compared with the meter; null where nothing is to compare yet. */
  check: ProjectionCheck | null;
  /** Metrics that there are samples of; of very many, some. */
  metrics: readonly string[];
}>;

/** One fleet with everything its workbench shows. Throws a RefusedError where there is none. */
export async function openWorkbench(services: Services, actor: Actor, id: number): Promise<OpenFleet> {
  authorise(actor, "look", ESTATE);
  const fleet = await maybeFleet(services.pool, id);
  if (!fleet) throw new RefusedError("not_found", `There is no fleet ${id}.`);
  const { now } = await services.clock.read();
  const [versions, schedules, calendars, regionZones, holds, snapshot, missing, metrics, check] = await Promise.all([
    planVersionList(services.pool, id),
    scheduleList(services.pool),
    calendarList(services.pool),
    regionPlaces(services, actor),
    overridesFrom(services.pool, now),
    loadSnapshot(services),
    missingStarts(services.pool, now - MISSING_AFTER_S),
    knownMetrics(services, actor),
    projectionCheck(services, fleet.name, now),
  ]);
  return {
    fleet,
    versions,
    schedules: schedules.map((schedule) => scheduleToFile(schedule) as ScheduleDraft),
    calendars,
    regionZones,
    holds: holds.filter((hold) => hold.fleet === fleet.name),
    followers: Object.fromEntries(followersBySchedule(snapshot)),
    missing: missing.filter((one) => one.fleet === fleet.name),
    check,
    metrics: metrics.names,
  };
}

/** Saves a new fleet as a draft, ranked below all others. The selector must parse. Returns its number. */
export async function createFleet(
  services: Services,
  actor: Actor,
  { name, select }: { name: string; select: string },
): Promise<number> {
  authorise(actor, "edit plans", ESTATE);
  const fields: { path: string; message: string }[] = [];
  const parsed = tryParseSelector(select);
  if (!parsed.ok) fields.push({ path: "select", message: parsed.error.message });
  const draft = fleetDraftSchema.safeParse({
    name,
    select,
    hours: null,
    lead: 0,
    offAction: "stop",
    starts: "plan",
    enforce: "always",
    schedule: null,
  });
  if (!draft.success) {
    fields.push(...draft.error.issues.map((issue) => ({ path: issue.path.join("."), message: issue.message })));
  }
  if (fields.length > 0 || !draft.success) throw new RefusedError("invalid", "The fleet was not saved.", fields);
  const id = await addFleet(services.pool, draft.data);
  if (id === null) {
    throw new RefusedError("name_taken", "The fleet was not saved.", [
      { path: "name", message: `there is a fleet "${draft.data.name}" already` },
    ]);
  }
  await signal(services.pool, "fleets");
  return id;
}

/** Keeps a draft as it is typed. Throws a RefusedError when somebody else wrote since `version`; nothing is overwritten. */
export async function keepDraft(
  services: Services,
  actor: Actor,
  { id, draft, version, by = null }: { id: number; draft: FleetDraft; version: number; by?: Writing },
): Promise<number> {
  authorise(actor, "edit plans", { kind: "fleet", fleet: id });
  const next = await saveDraft(services.pool, id, { draft, version, by });
  if (next === null) {
    throw new RefusedError("changed_since", "Somebody else changed this fleet since you opened it. Your text is still here.");
  }
  return next;
}

/** A draft as it is stored, with its version. Throws a RefusedError where there is no such fleet. */
export async function storedDraft(
  services: Services,
  actor: Actor,
  id: number,
): Promise<Readonly<{ draft: FleetDraft; version: number }>> {
  authorise(actor, "look", ESTATE);
  const fleet = await maybeFleet(services.pool, id);
  if (!fleet) throw new RefusedError("not_found", `There is no fleet ${id}.`);
  return { draft: fleet.draft, version: fleet.version };
}

export type { PlanVersion };
