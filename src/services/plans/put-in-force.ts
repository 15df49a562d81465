import { createHash } from "node:crypto";
import { type CompiledSchedule, nextEdges, type Schedule, scheduleSchema, scheduleToFile } from "@/core/hours";
import { type FleetDraft, type FleetPlan, planToDraft, tryDraftToPlan } from "@/core/plan";
import { type Decision, type HoursOf, hoursFinder, loweredBelow, mixedGroupsIn, whyWords } from "@/core/rounds";
import { DAY_S, type Instant, MINUTE_S } from "@/core/time";
import { addJob, inTransaction, maybeFleet, savePlanInForce, saveSchedule, signal } from "@/store";
import { type Actor, authorise, ESTATE, type FieldIssue, RefusedError, type Services } from "../admin";
import { compileAll, loadSnapshot, resourcesByFleet, type Snapshot } from "../inventory";
import { type FirstMembers, firstMembers } from "../mix";
import { changedSnapshot, confirmStops, type Follower, firstRoundOf, followersBySchedule } from "../rounds";
import { asPreviewed, type Unchanged } from "./as-previewed";
import { soonOff } from "./soon-off";

export type PreviewChange = Readonly<{ id: string; name: string; fleet: string; verb: string; level: number; why: string }>;

/** A group or service by name, with what it has had and the most its hours give it. */
export type LoweredWords = Readonly<{ name: string; had: number; most: number }>;

/** What would happen if a draft were put in force now. */
export type ForcePreview = Readonly<{
  issues: readonly FieldIssue[];
  stops: readonly PreviewChange[];
  starts: readonly PreviewChange[];
  /** Neither stopped nor started, but resized. */
  resizes: readonly PreviewChange[];
  waiting: number;
  matches: number;
  /** The fleet's next day: when its level changes. */
  edges: readonly Readonly<{ at: Instant; to: number | null; because: string; zone: string }>[];
  /** Groups and services that the hours never let run at what they have had. */
  lowered: readonly LoweredWords[];
  /** Groups of a plan with a mix: it is kept for one. */
  mixed: number;
  /** What its mix asks for at once; null where none is kept. */
  firstMembers: FirstMembers | null;
  /** Other fleets in force that follow the changed schedule, and how many of their machines do. */
  alsoMoves: readonly Follower[];
  /** Which hours are stored where the plan writes its own; null where there are none of that name, or it writes none. */
  replaces: string | null;
  now: Instant;
}>;

type Checked = Readonly<{ plan: FleetPlan; schedule: Schedule | null }>;

/** Decides the first round as if the draft were in force. Reads nothing from the clouds and changes nothing. */
export async function previewInForce(services: Services, actor: Actor, draft: FleetDraft): Promise<ForcePreview> {
  authorise(actor, "look", ESTATE);
  const [{ now }, snapshot] = await Promise.all([services.clock.read(), loadSnapshot(services)]);
  return (await preview(services, { draft, snapshot, now })).preview;
}

type Previewed = Readonly<{
  preview: ForcePreview;
  checked: Checked | null;
  /** The snapshot with the plan in force, and what is decided there of the machines it touches. */
  after: Snapshot;
  own: readonly Decision[];
}>;

async function preview(
  services: Services,
  { draft, snapshot, now }: { draft: FleetDraft; snapshot: Snapshot; now: Instant },
): Promise<Previewed> {
  const { issues, checked } = checkDraft(draft, snapshot);
  const nothing = {
    issues,
    stops: [],
    starts: [],
    resizes: [],
    waiting: 0,
    matches: 0,
    edges: [],
    lowered: [],
    alsoMoves: [],
    replaces: null,
    mixed: 0,
    firstMembers: null,
    now,
  };
  if (!checked) return { preview: nothing, checked, after: snapshot, own: [] };
  const changed = changedSnapshot(snapshot, { schedules: checked.schedule ? [checked.schedule] : [] });
  const fleets = snapshot.fleets.map((fleet) => (fleet.name === checked.plan.name ? { ...fleet, inForce: checked.plan } : fleet));
  const after: Snapshot = { ...changed, fleets };
  const alsoMoves = (followersBySchedule(after).get(checked.schedule?.name ?? "") ?? []).filter(
    ({ fleet }) => fleet !== checked.plan.name,
  );
  const decisions = await firstRoundOf(services, after, now);
  const touched = new Set([checked.plan.name, ...alsoMoves.map(({ fleet }) => fleet)]);
  const names = new Map(snapshot.resources.map(({ id, name }) => [id, name]));
  const own = decisions.filter(({ fleet }) => fleet !== null && touched.has(fleet));
  const ofMix = await firstMembers(services, { after, decisions, fleet: checked.plan.name, now });
  // What a group under a mix has is told by its members: of itself it never rises.
  const acting = own.filter(
    ({ verdict, action, resourceId }) => verdict === "act" && !(ofMix?.groupId === resourceId && (action?.level ?? 0) > 0),
  );
  const changes = acting.map((decision) => changeOf(decision, names));
  const { lead } = checked.plan;
  const members = resourcesByFleet(after).get(checked.plan.name) ?? [];
  const find = hoursFinder(compileAll(after.schedules, after.calendars), after.capabilities);
  // One schedule, mostly; several where it is lived in each machine's own zone, or named by tags.
  // A pool's give counts, and are one.
  const counted = { ...checked.plan, pooled: undefined };
  const followed = new Set(members.flatMap((resource) => compiledOf(find(resource, counted))));
  return {
    checked,
    after,
    own,
    preview: {
      ...nothing,
      stops: changes.filter(({ level, verb }) => level === 0 && verb !== "start"),
      starts: changes.filter(({ verb }) => verb === "start"),
      resizes: changes.filter(({ verb, level }) => verb === "resize" && level > 0),
      waiting: own.filter(({ verdict }) => verdict === "waiting").length,
      matches: own.filter(({ fleet }) => fleet === checked.plan.name).length,
      edges: [...followed]
        .flatMap((hours) =>
          nextEdges(hours, { t: now, count: 12, leadS: lead * MINUTE_S })
            .filter(({ at }) => at <= now + DAY_S)
            .map(({ at, to, because }) => ({ at, to, because, zone: hours.schedule.zone })),
        )
        .sort((a, b) => a.at - b.at),
      lowered: loweredBelow(members, {
        plan: checked.plan,
        hoursOf: (resource) => find(resource, checked.plan),
      }).map(({ resource: { name }, had, most }) => ({ name, had, most })),
      alsoMoves,
      replaces: markOf(snapshot.schedules.find(({ name }) => name === checked.schedule?.name)),
      mixed: mixedGroupsIn(members, checked.plan).groups.length,
      firstMembers: ofMix,
    },
  };
}

/** By which hours are known again; null for none. */
function markOf(schedule: Schedule | undefined): string | null {
  return schedule
    ? createHash("sha256")
        .update(JSON.stringify(scheduleToFile(schedule)))
        .digest("base64")
    : null;
}

function compiledOf(hours: HoursOf): readonly CompiledSchedule[] {
  return hours.kind === "schedule" ? [hours.compiled] : [];
}

function changeOf({ resourceId, fleet, reasons, action }: Decision, names: ReadonlyMap<string, string>): PreviewChange {
  const { verb, level } = action as NonNullable<typeof action>;
  return { id: resourceId, name: names.get(resourceId) ?? resourceId, fleet: fleet ?? "", verb, level, why: whyWords(reasons) };
}

/** Reads a draft as a plan; every issue at once, by the path of its field. */
function checkDraft(draft: FleetDraft, snapshot: Snapshot): { issues: FieldIssue[]; checked: Checked | null } {
  const scheduleDraft = draft.schedule;
  const issues: FieldIssue[] = [];
  const fleet = tryDraftToPlan(draft);
  if (!fleet.success) issues.push(...fleet.error.issues.map(({ path, message }) => ({ path: path.join("."), message })));
  const schedule = scheduleDraft === null ? null : scheduleSchema.safeParse(scheduleDraft);
  if (schedule && !schedule.success) {
    issues.push(...schedule.error.issues.map(({ path, message }) => ({ path: ["schedule", ...path].join("."), message })));
  }
  if (schedule?.success) {
    const { calendar, name } = schedule.data;
    if (calendar !== undefined && !snapshot.calendars.some((known) => known.name === calendar)) {
      issues.push({ path: "schedule.calendar", message: `no calendar is named "${calendar}"` });
    }
    if (draft.hours !== name) issues.push({ path: "hours", message: `the hours being edited are "${name}"` });
  }
  if (typeof draft.hours === "string" && !schedule && !snapshot.schedules.some(({ name }) => name === draft.hours)) {
    issues.push({ path: "hours", message: `no schedule is named "${draft.hours}"` });
  }
  if (draft.hours === null && (draft.idle ?? []).length === 0 && !draft.mix)
    issues.push({ path: "hours", message: "the plan has no hours yet: choose or paint some, or give it an idle rule or a mix" });
  if (issues.length > 0 || !fleet.success || (schedule && !schedule.success)) return { issues, checked: null };
  return { issues, checked: { plan: fleet.data, schedule: schedule?.data ?? null } };
}

export type ForceRequest = Readonly<{
  id: number;
  version: number;
  why: string;
  /** How many machines the person was told would stop first. */
  confirmedStops: number;
  /** The hours that the person was told would be replaced (`ForcePreview`); where nothing is said, those that are stored. */
  replaces?: string | null | undefined;
}>;

/** Puts a fleet's stored draft in force, with the schedule it changed. The next round goes by it. */
export async function putInForce(services: Services, actor: Actor, request: ForceRequest): Promise<number> {
  authorise(actor, "put in force", { kind: "fleet", fleet: request.id });
  const next = await asPreviewed(services.pool, (unchanged) => forceOnce(services, actor, { ...request, unchanged }));
  await signal(services.pool, "fleets");
  // What is to come of it is learned at once, from the weeks that are known.
  await addJob(services.pool, "likely");
  return next;
}

async function forceOnce(
  services: Services,
  actor: Actor,
  { id, version, why, confirmedStops, replaces, unchanged }: ForceRequest & Unchanged,
): Promise<number> {
  const fleet = await maybeFleet(services.pool, id);
  if (!fleet) throw new RefusedError("not_found", `There is no fleet ${id}.`);
  if (fleet.retiredAt !== null) throw new RefusedError("invalid", `${fleet.name} is retired. Bring it back first.`);
  if (fleet.version !== version) {
    throw new RefusedError(
      "changed_since",
      "Somebody else changed this fleet since you opened it. Nothing was put in force; reload to see theirs.",
    );
  }
  const [{ now }, snapshot] = await Promise.all([services.clock.read(), loadSnapshot(services)]);
  const { preview: first, checked, after, own } = await preview(services, { draft: fleet.draft, snapshot, now });
  if (!checked) throw new RefusedError("invalid", "The plan was not put in force.", first.issues);
  if (first.stops.length > confirmedStops) {
    throw new RefusedError(
      "count_differs",
      `It would now stop ${first.stops.length} machines, not ${confirmedStops}. Nothing was put in force; look at the list again.`,
    );
  }
  if (replaces !== undefined && replaces !== first.replaces)
    throw new RefusedError(
      "changed_since",
      `Somebody else changed the hours "${checked.schedule?.name}" since you looked. Nothing was put in force; look at what it would do now.`,
    );
  const soon = await soonOff(services, { after, now, own });
  return inTransaction(services.pool, async (tx) => {
    await unchanged(tx);
    if (checked.schedule) await saveSchedule(tx, checked.schedule, { at: now, person: actor.name });
    const saved = await savePlanInForce(tx, id, {
      plan: checked.plan,
      draft: planToDraft(checked.plan),
      body: fleet.draft,
      version,
      why,
      person: actor.name,
      at: now,
    });
    if (saved === null)
      throw new RefusedError(
        "changed_since",
        "Somebody else changed this fleet just now. Nothing was put in force; reload to see theirs.",
      );
    await confirmStops(tx, { resourceIds: soon, person: actor.name, at: now });
    return saved;
  });
}
