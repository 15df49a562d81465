import { scheduleToFile } from "@/core/hours";
import {
  differingKeys,
  type FleetPlan,
  type PlanFile,
  type PlanFormat,
  planToDraft,
  planToText,
  tryDraftToPlan,
} from "@/core/plan";
import { isSameJson } from "@/core/same";
import { addFleet, inTransaction, putCalendar, saveDraft, saveOrder, saveSchedule, signal } from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { currencyOf, loadSnapshot, type Snapshot } from "../inventory";
import { type Impact, impactOf } from "../rounds";
import { asPreviewed, type Unchanged } from "./as-previewed";
import { parsePlanApart } from "./parse-apart";

/** All calendars, schedules and fleets as a plan file. A fleet is written as it is in force, or else as its draft where that reads as a plan. */
export async function exportPlan(services: Services, actor: Actor, format: PlanFormat): Promise<string> {
  authorise(actor, "look", ESTATE);
  const snapshot = await loadSnapshot(services);
  const schedules = new Set(snapshot.schedules.map(({ name }) => name));
  const fleets = snapshot.fleets.flatMap(({ inForce, draft, retiredAt }): FleetPlan[] => {
    if (retiredAt !== null) return [];
    const drafted = tryDraftToPlan(draft);
    const plan = inForce ?? (drafted.success ? drafted.data : null);
    if (!plan) return [];
    // A draft may name hours that are not stored yet: without them it is still a fleet.
    const isLost = typeof plan.hours === "string" && !schedules.has(plan.hours);
    return [isLost ? { ...plan, hours: undefined } : plan];
  });
  const currency = currencyOf(snapshot);
  return planToText({ umbrik: 1, currency, calendars: snapshot.calendars, schedules: snapshot.schedules, fleets }, format);
}

export type PlanImport = Readonly<{
  /** What in the file is new and what differs from what is stored; the rest is the same. */
  added: readonly string[];
  changed: readonly string[];
  /** Fleets in use that the file does not name: they stay as they are. */
  absent: readonly string[];
  moves: Impact;
}>;

/** What a plan file would change. Throws a RefusedError with every issue by line and column. */
export async function previewPlan(services: Services, actor: Actor, text: string): Promise<PlanImport> {
  authorise(actor, "look", ESTATE);
  const plan = await readPlan(text);
  const [{ now }, snapshot] = await Promise.all([services.clock.read(), loadSnapshot(services)]);
  const retired = snapshot.fleets.find(
    ({ name, retiredAt }) => retiredAt !== null && plan.fleets.some((fleet) => fleet.name === name),
  );
  if (retired)
    throw new RefusedError(
      "invalid",
      `${retired.name} is retired. Bring it back below the list of fleets first, or leave it out.`,
    );
  const { schedules, calendars } = plan;
  const ranked = rankedBy(plan, snapshot);
  const change = { schedules, calendars, ...(ranked ? { fleets: ranked } : {}) };
  const moves = await impactOf(services, { snapshot, change, now });
  const { added, changed } = differencesOf(plan, snapshot);
  const named = new Set(plan.fleets.map(({ name }) => name));
  const absent = snapshot.fleets.filter(({ name, retiredAt }) => retiredAt === null && !named.has(name)).map(({ name }) => name);
  return { added, changed: ranked ? [...changed, "the order of the fleets"] : changed, absent, moves };
}

/**
 * Takes a plan file in: calendars and schedules count from the next round on, fleets become drafts.
 * What the file does not name stays as it is.
 */
export async function importPlan(
  services: Services,
  actor: Actor,
  { text, confirmedStops }: { text: string; confirmedStops: number },
): Promise<PlanImport> {
  authorise(actor, "put in force", ESTATE);
  const plan = await readPlan(text);
  const preview = await asPreviewed(services.pool, (unchanged) =>
    importOnce(services, actor, { text, plan, confirmedStops, unchanged }),
  );
  await signal(services.pool, "fleets");
  return preview;
}

type Importing = Readonly<{
  text: string;
  plan: PlanFile;
  confirmedStops: number;
}> &
  Unchanged;

async function importOnce(
  services: Services,
  actor: Actor,
  { text, plan, confirmedStops, unchanged }: Importing,
): Promise<PlanImport> {
  const preview = await previewPlan(services, actor, text);
  const stops = preview.moves.stops.length;
  if (stops > confirmedStops) {
    throw new RefusedError("count_differs", `It would now stop ${stops} machines, not ${confirmedStops}. Nothing was taken in.`);
  }
  const snapshot = await loadSnapshot(services);
  const { fleets } = snapshot;
  const ranked = rankedBy(plan, snapshot);
  const changed = { at: preview.moves.now, person: actor.name };
  await inTransaction(services.pool, async (tx) => {
    await unchanged(tx);
    for (const calendar of plan.calendars) await putCalendar(tx, calendar, changed);
    for (const schedule of plan.schedules) await saveSchedule(tx, schedule, changed);
    for (const fleet of plan.fleets) {
      const stored = fleets.find(({ name }) => name === fleet.name);
      const draft = planToDraft(fleet);
      const isKept = stored ? await saveDraft(tx, stored.id, { draft, version: stored.version }) : await addFleet(tx, draft);
      if (isKept === null)
        throw new RefusedError("changed_since", `Somebody else changed ${fleet.name} just now. Nothing was taken in; try again.`);
    }
    if (ranked) {
      const ids = (list: Snapshot["fleets"]) => list.map(({ id }) => id);
      await saveOrder(tx, { ...changed, why: "from a plan file", before: ids(fleets), ids: ids(ranked) });
    }
  });
  return preview;
}

/** The fleets in the order of the file, those that it does not name in their places; null where that is as it is. */
function rankedBy(plan: PlanFile, { fleets }: Snapshot): Snapshot["fleets"] | null {
  const byName = new Map(fleets.map((fleet) => [fleet.name, fleet]));
  const inFile = plan.fleets.flatMap(({ name }) => byName.get(name) ?? []);
  const named = new Set(inFile);
  let next = 0;
  const ranked = fleets.map((fleet) => (named.has(fleet) ? (inFile[next++] ?? fleet) : fleet));
  return ranked.every((fleet, i) => fleet === fleets[i]) ? null : ranked.map((fleet, i) => ({ ...fleet, rank: i + 1 }));
}

async function readPlan(text: string): Promise<PlanFile> {
  const result = await parsePlanApart(text);
  if (result.ok) return result.value;
  const fields = result.issues.map(({ line, column, path, message }) => ({
    path: `${line}:${column}`,
    message: path ? `${path}: ${message}` : message,
  }));
  throw new RefusedError("invalid", "The plan file was not taken in; nothing is changed.", fields);
}

function differencesOf(plan: PlanFile, snapshot: Snapshot): { added: string[]; changed: string[] } {
  const added: string[] = [];
  const changed: string[] = [];
  const compare = (what: string, name: string, before: unknown, after: unknown) => {
    if (before === undefined) added.push(`${what} ${name}`);
    else if (!isSameJson(before, after)) changed.push(`${what} ${name}`);
  };
  for (const calendar of plan.calendars) {
    compare(
      "calendar",
      calendar.name,
      snapshot.calendars.find(({ name }) => name === calendar.name),
      calendar,
    );
  }
  for (const schedule of plan.schedules) {
    const stored = snapshot.schedules.find(({ name }) => name === schedule.name);
    compare("schedule", schedule.name, stored && scheduleToFile(stored), scheduleToFile(schedule));
  }
  for (const fleet of plan.fleets) {
    const stored = snapshot.fleets.find(({ name }) => name === fleet.name);
    if (!stored) added.push(`fleet ${fleet.name}`);
    else if (differingKeys({ ...stored.draft, schedule: null }, planToDraft(fleet)).length > 0)
      changed.push(`fleet ${fleet.name}`);
  }
  return { added, changed };
}
