import { fleetDraftSchema } from "@/core/plan";
import type { Decision } from "@/core/rounds";
import type { Instant } from "@/core/time";
import {
  addFleet,
  type Fleet,
  fleetList,
  inTransaction,
  maybeFleet,
  saveBroughtBack,
  saveName,
  saveOrder,
  saveOutOfForce,
  signal,
} from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { loadSnapshot, type Snapshot } from "../inventory";
import { confirmStops, firstRoundOf } from "../rounds";
import { asPreviewed, type Unchanged } from "./as-previewed";
import { soonOff } from "./soon-off";

/** What is done with whole fleets: another order of all that are in use, or one that looks after nothing any more. */
export type FleetsChange =
  | Readonly<{ kind: "order"; ids: readonly number[] }>
  | Readonly<{ kind: "out of force" | "retire"; id: number }>;

/** A machine that another fleet has after it, or none (null). */
export type ChangeOfHands = Readonly<{ id: string; name: string; from: string | null; to: string | null }>;

export type FleetsImpact = Readonly<{
  now: Instant;
  hands: readonly ChangeOfHands[];
  /** What the next round stops and starts because of it, by machine's name. */
  stops: readonly string[];
  starts: readonly string[];
}>;

type Looked = Readonly<{ impact: FleetsImpact; snapshot: Snapshot; after: Snapshot; touched: readonly Decision[] }>;

/** Which machines change hands, and what the next round does because of it. Changes nothing. */
export async function previewFleets(services: Services, actor: Actor, change: FleetsChange): Promise<FleetsImpact> {
  authorise(actor, "look", ESTATE);
  return (await look(services, change)).impact;
}

async function look(services: Services, change: FleetsChange): Promise<Looked> {
  const [{ now }, snapshot] = await Promise.all([services.clock.read(), loadSnapshot(services)]);
  const after: Snapshot = { ...snapshot, fleets: changed(snapshot.fleets, change) };
  const [before, then] = await Promise.all([firstRoundOf(services, snapshot, now), firstRoundOf(services, after, now)]);
  const known = new Map(before.map((decision) => [decision.resourceId, decision]));
  const names = new Map(snapshot.resources.map(({ id, name }) => [id, name]));
  const nameOf = (id: string) => names.get(id) ?? id;
  const news = then.filter(
    ({ resourceId, verdict, action }) => verdict === "act" && action && known.get(resourceId)?.action?.level !== action.level,
  );
  const moved = then.filter(({ resourceId, fleet }) => known.get(resourceId)?.fleet !== fleet);
  return {
    snapshot,
    after,
    touched: moved,
    impact: {
      now,
      hands: moved.map(({ resourceId, fleet }) => ({
        id: resourceId,
        name: nameOf(resourceId),
        from: known.get(resourceId)?.fleet ?? null,
        to: fleet,
      })),
      stops: news.filter(({ action }) => action?.level === 0).map(({ resourceId }) => nameOf(resourceId)),
      starts: news.filter(({ action }) => action?.verb === "start").map(({ resourceId }) => nameOf(resourceId)),
    },
  };
}

/** The fleets as they would be. Throws a RefusedError where the change is of others than are there. */
function changed(fleets: readonly Fleet[], change: FleetsChange): readonly Fleet[] {
  if (change.kind !== "order") {
    if (!fleets.some(({ id }) => id === change.id)) throw new RefusedError("not_found", `There is no fleet ${change.id}.`);
    return fleets.map((fleet) => (fleet.id === change.id ? { ...fleet, inForce: null } : fleet));
  }
  const used = fleets.filter(({ retiredAt }) => retiredAt === null);
  const places = new Map(change.ids.map((id, i) => [id, i]));
  if (places.size !== used.length || change.ids.length !== used.length || used.some(({ id }) => !places.has(id)))
    throw new RefusedError("changed_since", "There are other fleets by now. Nothing was ranked; reload to see them.");
  const ranked = [...used].sort((a, b) => (places.get(a.id) ?? 0) - (places.get(b.id) ?? 0));
  return [...ranked, ...fleets.filter(({ retiredAt }) => retiredAt !== null)].map((fleet, i) => ({ ...fleet, rank: i + 1 }));
}

export type FleetsRequest = Readonly<{
  change: FleetsChange;
  why: string;
  /** How many machines the person was told would stop. */
  confirmedStops: number;
  /** Of the fleet as the person saw it; no part in an order. */
  version?: number | undefined;
}>;

/** Ranks the fleets anew, or takes one out of force or out of use. The next round goes by it; the past stays as it was. */
export async function changeFleets(services: Services, actor: Actor, request: FleetsRequest): Promise<void> {
  authorise(actor, "put in force", ESTATE);
  await asPreviewed(services.pool, (unchanged) => changeOnce(services, actor, { ...request, unchanged }));
  await signal(services.pool, "fleets");
}

async function changeOnce(services: Services, actor: Actor, { unchanged, ...request }: FleetsRequest & Unchanged): Promise<void> {
  const { change, confirmedStops } = request;
  const { impact, snapshot, after, touched } = await look(services, change);
  if (impact.stops.length > confirmedStops)
    throw new RefusedError(
      "count_differs",
      `It would now stop ${impact.stops.length} machines, not ${confirmedStops}. Nothing was changed; look at the list again.`,
    );
  const soon = await soonOff(services, { after, now: impact.now, own: touched });
  const told = { why: request.why.trim(), person: actor.name, at: impact.now };
  await inTransaction(services.pool, async (tx) => {
    await unchanged(tx);
    if (change.kind === "order") {
      await saveOrder(tx, { ...told, before: snapshot.fleets.map(({ id }) => id), ids: after.fleets.map(({ id }) => id) });
    } else {
      const version = request.version ?? snapshot.fleets.find(({ id }) => id === change.id)?.version ?? 0;
      const isSaved = await saveOutOfForce(tx, change.id, { ...told, version, isRetired: change.kind === "retire" });
      if (!isSaved) throw changedSince();
    }
    await confirmStops(tx, { resourceIds: soon, person: actor.name, at: impact.now });
  });
}

function changedSince(): RefusedError {
  return new RefusedError("changed_since", "Somebody else changed this fleet just now. Nothing was changed; look again.");
}

/** Puts a retired fleet back into use, below all others and as a draft. */
export async function bringBackFleet(services: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "edit plans", { kind: "fleet", fleet: id });
  if (!(await saveBroughtBack(services.pool, id))) throw new RefusedError("not_found", `There is no retired fleet ${id}.`);
  await signal(services.pool, "fleets");
}

export type Renaming = Readonly<{ id: number; name: string; version: number }>;

/** Gives a fleet another name. Throws a RefusedError where it is no name, or another has it, however it is written. */
export async function renameFleet(services: Services, actor: Actor, { id, name, version }: Renaming): Promise<void> {
  authorise(actor, "edit plans", { kind: "fleet", fleet: id });
  const fleet = await maybeFleet(services.pool, id);
  if (!fleet) throw new RefusedError("not_found", `There is no fleet ${id}.`);
  const wanted = checkedName(name);
  if (wanted === fleet.name) return;
  const isTaken = (await fleetList(services.pool)).some((other) => other.id !== id && isSameName(other.name, wanted));
  if (isTaken) throw nameTaken(wanted);
  if (!(await inTransaction(services.pool, (tx) => saveName(tx, id, { name: wanted, version })))) throw changedSince();
  await signal(services.pool, "fleets");
}

function checkedName(name: string): string {
  const checked = fleetDraftSchema.shape.name.safeParse(name.trim());
  if (checked.success) return checked.data;
  const message = checked.error.issues[0]?.message ?? "expected a name";
  throw new RefusedError("invalid", "The fleet was not renamed.", [{ path: "name", message }]);
}

function nameTaken(name: string): RefusedError {
  const message = `there is a fleet "${name}" already, in use or retired`;
  return new RefusedError("name_taken", "The fleet was not renamed.", [{ path: "name", message }]);
}

function isSameName(one: string, other: string): boolean {
  return one.toLowerCase() === other.toLowerCase();
}

/** Makes a draft like another fleet's, under a name of its own and below all others. Returns its number. */
export async function copyFleet(services: Services, actor: Actor, id: number): Promise<number> {
  authorise(actor, "edit plans", { kind: "fleet", fleet: id });
  const fleets = await fleetList(services.pool);
  const fleet = fleets.find((one) => one.id === id);
  if (!fleet) throw new RefusedError("not_found", `There is no fleet ${id}.`);
  const draft = { ...fleet.draft, name: freeName(fleet.name, fleets) };
  const copy = await addFleet(services.pool, draft);
  if (copy === null) throw nameTaken(draft.name);
  await signal(services.pool, "fleets");
  return copy;
}

function freeName(name: string, fleets: readonly Fleet[]): string {
  for (let n = 1; ; n++) {
    const wanted = `${name.slice(0, 60)}-${n === 1 ? "copy" : `copy-${n}`}`;
    if (!fleets.some((fleet) => isSameName(fleet.name, wanted))) return wanted;
  }
}
