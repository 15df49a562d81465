import { type Considered, explain } from "@/core/hours";
import { capabilitiesFor, hasLife, isGuarded, listedAt, providerIdOf, type Resource } from "@/core/plan";
import { amountOf, cardReader, costPerSecond, formatCents, microsOf } from "@/core/pricing";
import { claimer, type Due, type DueEdge, dueReader, hoursFinder, nextDueEdges, zoneOf } from "@/core/rounds";
import { matcher, selectorOf } from "@/core/selector";
import { DAY_S, HOUR_S, type Instant } from "@/core/time";
import {
  type ActionLine,
  changesOf,
  fullInventory,
  MISSING_AFTER_S,
  type MissingStart,
  missingStarts,
  overridesAround,
  priceBooks,
  type StateChange,
  type StoredOverride,
  searchActions,
} from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { withPlansAt } from "./as-of";
import { type LifeRun, runsBefore } from "./machine-life";
import { compileAll, loadSnapshot, placeIn } from "./snapshot";

const EDGES = 10;
const CHANGES = 12;
const RUNS = 7;
const RUN_CHANGES = 60;

/** One machine, group or service: what it is now, and what is due at any instant with every rule that was considered. */
export type OpenMachine = Readonly<{
  resource: Resource;
  now: Instant;
  at: Instant;
  /** The zone of its hours, or where the people of its region live. */
  zone: string;
  currency: string;
  perHour: string;
  isGuarded: boolean;
  fleet: Readonly<{ id: number; name: string; lead: number; enforce: string; starts: string }> | null;
  /** Lower-ranked fleets that match it too. */
  overlaps: readonly string[];
  due: Due | null;
  /** The rows of its hours, each with why it does or does not speak; empty where it follows none. */
  rows: readonly Considered[];
  edges: readonly DueEdge[];
  holds: readonly StoredOverride[];
  changes: readonly StateChange[];
  /** What was asked of its provider for it, the last first. */
  actions: readonly ActionLine[];
  /** Its last runs, the last first. */
  runs: readonly LifeRun[];
  /** Set where it should be on by now and is not: what its provider said last. */
  missing: MissingStart | null;
  /** Until when a guard that was seen holds, though its tag is gone. */
  guardedUntil: Instant | null;
}>;

/**
 * What a link means: links from before ids said the account have the provider's own id, and lead on where one machine
 * alone has it.
 */
function meantBy(said: string, all: readonly Resource[]): Resource | undefined {
  const exact = all.find(({ id }) => id === said);
  if (exact) return exact;
  const [one, ...others] = all.filter(({ id, fields }) => providerIdOf(id, fields.account ?? "") === said);
  return others.length === 0 ? one : undefined;
}

/**
 * As of `at`, by the plans, hours and holds of then. `id` may be the provider's own: the answer's is the one it is known
 * by. Throws a RefusedError where there is no such machine.
 */
export async function openMachine(
  services: Services,
  actor: Actor,
  { id: said, at: asked }: { id: string; at: Instant | null },
): Promise<OpenMachine> {
  authorise(actor, "look", ESTATE);
  const [{ now }, today, { history: prices }] = await Promise.all([
    services.clock.read(),
    loadSnapshot(services),
    priceBooks(services.pool),
  ]);
  const at = asked ?? now;
  const present = meantBy(said, await fullInventory(services.pool));
  if (!present || !hasLife(present)) throw new RefusedError("not_found", `There is no machine ${said}.`);
  const { id } = present;
  // The past is told by what then was: plans, hours and calendars, and how it was listed.
  const snapshot = at < now ? await withPlansAt(services.pool, today, at) : today;
  const resource = listedAt(present, at);
  const inForce = snapshot.fleets.flatMap((fleet) => (fleet.inForce ? [{ id: fleet.id, plan: fleet.inForce }] : []));
  // A member is its group's, whatever its tags say.
  const plan = resource.kind === "member" ? null : claimer(inForce.map((fleet) => fleet.plan))(resource);
  const fleet = inForce.find((candidate) => candidate.plan === plan);
  const [holds, changes, actions, { runs }, missing] = await Promise.all([
    overridesAround(services.pool, { resourceId: id, fleet: plan?.name ?? null, at: Math.min(at, now) }),
    changesOf(services.pool, id, { before: now, limit: CHANGES }),
    searchActions(services.pool, { resourceId: id, text: "", status: "", from: null, to: null, before: null, limit: CHANGES }),
    runsBefore(services.pool, { id, before: now, limit: RUN_CHANGES }),
    at === now ? missingStarts(services.pool, now - MISSING_AFTER_S) : [],
  ]);
  const schedules = compileAll(snapshot.schedules, snapshot.calendars);
  const placed = { ...resource, ...placeIn(snapshot, id) };
  const hours = plan ? hoursFinder(schedules, snapshot.capabilities)(placed, plan) : null;
  const compiled = hours?.kind === "schedule" ? hours.compiled : null;
  const reader = dueReader({ now: at, schedules, capabilities: snapshot.capabilities, overrides: holds });
  const card = cardReader(prices.bookAt(at), snapshot.capabilities)(resource);
  return {
    resource,
    now,
    at,
    zone: compiled?.schedule.zone ?? zoneOf(resource, snapshot.capabilities) ?? "UTC",
    currency: capabilitiesFor(resource, snapshot.capabilities)?.currency ?? "EUR",
    perHour: card ? formatCents(microsOf(amountOf(HOUR_S, costPerSecond(card, resource)))) : "",
    isGuarded: isGuarded(resource),
    fleet: plan && fleet ? { id: fleet.id, name: plan.name, lead: plan.lead, enforce: plan.enforce, starts: plan.starts } : null,
    overlaps: inForce.flatMap(({ plan: other }) =>
      other !== plan && matcher(selectorOf(other.select))(resource) ? [other.name] : [],
    ),
    due: plan ? reader(placed, plan) : null,
    rows: compiled ? explain(compiled, at).considered : [],
    edges:
      plan && hours
        ? edgesAhead(nextDueEdges(resource, { fleet: plan, overrides: holds, hours }, { t: at, count: EDGES }), at)
        : [],
    holds: holds.filter(({ to }) => to > now),
    changes,
    actions,
    runs: runs.slice(0, RUNS),
    missing: missing.find(({ resourceId }) => resourceId === id) ?? null,
    guardedUntil: resource.guardedUntil,
  };
}

const SEARCHED_S = 5 * 366 * DAY_S;

/** Edges are searched for five years: what ends later, as a trip that only a start ends, has none. */
function edgesAhead(edges: readonly DueEdge[], at: Instant): readonly DueEdge[] {
  return edges.filter((edge) => edge.at - at <= SEARCHED_S);
}

export type { MissingStart, StateChange };
