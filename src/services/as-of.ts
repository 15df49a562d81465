import { type CompiledSchedule, expand, type Level, withLead } from "@/core/hours";
import { type FleetPlan, fleetSchema, isGuarded, isRunningState, isSchedulable } from "@/core/plan";
import { claimer, dueReader, hoursFinder, whyNoHibernation } from "@/core/rounds";
import { type Instant, MINUTE_S } from "@/core/time";
import {
  goneList,
  holdsBetween,
  type Pool,
  plansAt,
  resourceStamp,
  type StandingResource,
  type StateThen,
  type StoredHold,
  statesAt,
} from "@/store";
import type { Services } from "./context";
import { compileAll, loadWorld, type StoredWorld } from "./world";

/** Where the instant that is asked about lies. */
export type Tense = "now" | "past" | "ahead";

/**
 * The world as of an instant: now as it was last read and decided; in the past as the feed told, by
 * the plans in force then; ahead as it will be if plans are kept and all else stays.
 */
export type WorldAt = StoredWorld &
  Readonly<{
    now: Instant;
    at: Instant;
    tense: Tense;
    standing: readonly StandingResource[];
    /** In effect at `at`, the last placed first. */
    holds: readonly StoredHold[];
  }>;

export async function worldAt(services: Services, asked: Instant | null): Promise<WorldAt> {
  const [{ now }, world] = await Promise.all([services.clock.read(), loadWorld(services)]);
  const at = asked ?? now;
  const tense: Tense = asked === null || asked === now ? "now" : asked < now ? "past" : "ahead";
  const holds = await holdsBetween(services.pool, { from: at, to: at + 1 });
  if (tense === "now") return { ...world, now, at, tense, standing: world.resources, holds };
  const planned = tense === "past" ? await withPlansAt(services, world, at) : world;
  const existing = tense === "past" ? await asTheyWere(services, world, at) : world.resources;
  const standing = withDue(existing, { world: planned, at, now, tense, holds });
  return {
    ...planned,
    now,
    at,
    tense,
    standing,
    holds,
    resources: standing,
    schedulable: standing.filter(isSchedulable),
  };
}

/** The plans in force at an instant in place of today's. */
async function withPlansAt({ pool }: Services, world: StoredWorld, at: Instant): Promise<StoredWorld> {
  const plans = await plansAt(pool, at);
  return {
    ...world,
    fleets: world.fleets.map((fleet) => {
      const { schedule: _, ...draft } = plans.get(fleet.id) ?? { schedule: null };
      const plan = fleetSchema.safeParse({ ...draft, hours: "hours" in draft ? (draft.hours ?? undefined) : undefined });
      return { ...fleet, inForce: plan.success ? plan.data : null };
    }),
  };
}

async function asTheyWere({ pool }: Services, world: StoredWorld, at: Instant): Promise<readonly StandingResource[]> {
  const [states, gone] = await Promise.all([keptStatesAt(pool, at), goneList(pool)]);
  // What is gone now ran then.
  const since = gone.map((resource): StandingResource => ({ ...resource, due: null, fleet: null, why: "it is gone now" }));
  return [...world.resources, ...since].flatMap((resource): StandingResource[] => {
    if (!isSchedulable(resource)) return resource.since <= at && resource.state !== "gone" ? [resource] : [];
    const then = states.get(resource.id);
    return then && then.state !== "gone" ? [{ ...resource, ...then, target: then.level }] : [];
  });
}

const kept = new WeakMap<Pool, { key: string; states: Map<string, StateThen> }>();

/** Another instant is asked for page by page and by several parts of a page; what was is over until something new is told. */
async function keptStatesAt(pool: Pool, at: Instant): Promise<Map<string, StateThen>> {
  const key = `${at} ${await resourceStamp(pool)}`;
  const known = kept.get(pool);
  if (known?.key === key) return known.states;
  const states = await statesAt(pool, at);
  kept.set(pool, { key, states });
  return states;
}

type DueContext = Readonly<{ world: StoredWorld; at: Instant; now: Instant; tense: Tense; holds: readonly StoredHold[] }>;

/** What is due at `at` by the chain of rules; ahead of now it is taken to be kept. */
function withDue(resources: readonly StandingResource[], context: DueContext): StandingResource[] {
  const { world, at, tense, holds } = context;
  const claim = claimer(world.fleets.flatMap(({ inForce }) => (inForce ? [inForce] : [])));
  const schedules = compileAll(world.schedules, world.calendars);
  const dueOf = dueReader({ now: at, schedules, capabilities: world.capabilities, holds, trips: new Map() });
  const sinceOf = turnFinder(context);
  return resources.map((resource) => {
    const plan = isSchedulable(resource) ? claim(resource) : null;
    if (!plan) return { ...resource, due: null, fleet: null, why: "no fleet in force matches" };
    const due = dueOf(resource, plan);
    const why = due.chain.find(({ rule, applies }) => applies && rule === due.decidedBy)?.why ?? "no rule speaks";
    const stands = { ...resource, due: due.level, fleet: plan.name, why };
    if (tense !== "ahead" || due.level === null || isGuarded(resource)) return stands;
    const isHeldBack = plan.starts === "hand" && due.level > resource.level;
    return isHeldBack ? stands : moved(stands, due.level, { since: () => sinceOf(resource, plan), plan, world });
  });
}

function moved(
  resource: StandingResource,
  due: Level,
  { since, plan, world }: { since: () => Instant; plan: FleetPlan; world: StoredWorld },
): StandingResource {
  const level = (resource.kind === "machine" ? Math.min(1, due) : Math.min(resource.levelMax, due)) as Level;
  const isOn = isRunningState(resource.state);
  if (level > 0 && isOn) return { ...resource, state: "running", level, target: level };
  if (level > 0) {
    const at = since();
    return { ...resource, state: "running", level, target: level, since: at, runSince: at };
  }
  if (!isOn && resource.state !== "halted") return resource;
  const own = world.capabilities.get(resource.fields.provider ?? "");
  const hibernates = plan.offAction === "hibernate" && own !== undefined && whyNoHibernation(resource, own) === null;
  return { ...resource, state: hibernates ? "hibernated" : "stopped", level, target: level, since: since(), runSince: null };
}

/** When what is due at `at` last turned on or off between now and then; now itself where a hold did it. */
function turnFinder({ world, at, now }: DueContext): (resource: StandingResource, plan: FleetPlan) => Instant {
  const find = hoursFinder(compileAll(world.schedules, world.calendars), world.capabilities);
  const known = new Map<CompiledSchedule, Map<number, Instant>>();
  return (resource, plan) => {
    const hours = find(resource, plan);
    if (hours.kind !== "schedule") return now;
    const byLead = known.get(hours.compiled) ?? new Map<number, Instant>();
    known.set(hours.compiled, byLead);
    const turn = byLead.get(plan.lead) ?? lastTurn(hours.compiled, { leadS: plan.lead * MINUTE_S, now, at });
    byLead.set(plan.lead, turn);
    return turn;
  };
}

function lastTurn(compiled: CompiledSchedule, { leadS, now, at }: { leadS: number; now: Instant; at: Instant }): Instant {
  let since = now;
  let wasOn: boolean | null = null;
  for (const { from, level } of withLead(expand(compiled, now, at + leadS + 1), leadS)) {
    if (from > at) break;
    const isOn = level !== 0;
    if (isOn !== wasOn) since = Math.max(now, from);
    wasOn = isOn;
  }
  return since;
}
