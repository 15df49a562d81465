import { type CompiledSchedule, expand, type Level, withLead } from "@/core/hours";
import { type FleetPlan, fleetSchema, isRunningState, isSchedulable, type Resource } from "@/core/plan";
import { dueReader, whyNoHibernation } from "@/core/rounds";
import type { LifeSpan } from "@/core/spend";
import { DAY_S, type Instant, MINUTE_S } from "@/core/time";
import {
  type Decided,
  goneList,
  holdsBetween,
  type Pool,
  plansAt,
  type StandingResource,
  type StateOf,
  type StoredHold,
  standingAs,
} from "@/store";
import { type Claim, claimFinder, claimsOf } from "./claims";
import type { Services } from "./context";
import { livesOfDay } from "./lives";
import { loadWorld, type StoredWorld } from "./world";

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
  const standing = await keptStanding(services, { world: planned, at, now, tense, holds });
  return { ...planned, now, at, tense, standing, holds, resources: standing, schedulable: standing.filter(isSchedulable) };
}

type AsOf = Readonly<{
  world: StoredWorld;
  at: Instant;
  now: Instant;
  tense: Exclude<Tense, "now">;
  holds: readonly StoredHold[];
}>;

type Kept = Readonly<{ resources: readonly StandingResource[]; key: string; standing: readonly StandingResource[] }>;
const kept = new WeakMap<Pool, Kept>();

/** Another instant is asked for page by page and by several parts of a page: its answer is kept while nothing it rests on changes. */
async function keptStanding({ pool }: Services, asOf: AsOf): Promise<readonly StandingResource[]> {
  const { world, at, now, tense, holds } = asOf;
  const { resources, fleets, schedules, calendars, accounts } = world;
  // What is due ahead is taken to turn from now on: now, to the minute, is part of the answer.
  const turns = tense === "ahead" ? Math.floor(now / MINUTE_S) : 0;
  const key = JSON.stringify([at, turns, fleets, schedules, calendars, accounts, holds]);
  const known = kept.get(pool);
  if (known?.resources === resources && known.key === key) return known.standing;
  const standing = tense === "past" ? await asTheyWere(pool, asOf) : asTheyWillBe(asOf);
  kept.set(pool, { resources, key, standing });
  return standing;
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

async function asTheyWere(pool: Pool, asOf: AsOf): Promise<readonly StandingResource[]> {
  const { world, at } = asOf;
  const [lives, gone] = await Promise.all([livesOfDay(pool, world.accounts, Math.floor(at / DAY_S) * DAY_S), goneList(pool)]);
  const dueOf = dueFinder(asOf);
  const were: StandingResource[] = [];
  const add = (resource: Resource, claim: Claim | null) => {
    const then = isSchedulable(resource) ? stateAt(lives.get(resource.id) ?? [], at) : resource.since <= at ? resource : null;
    if (then && then.state !== "gone") were.push(standingAs(resource, then, dueOf(resource, claim)));
  };
  const claims = claimsOf(world);
  world.resources.forEach((resource, i) => {
    add(resource, claims[i] ?? null);
  });
  // What is gone now ran then.
  const claim = claimFinder(world);
  for (const resource of gone) add(resource, claim(resource));
  return were;
}

/** What the feed says of an instant; null before the first it tells. A run goes back to where the first of its states began. */
function stateAt(life: readonly LifeSpan[], at: Instant): StateOf | null {
  let i = life.length - 1;
  while (i >= 0 && (life[i] as LifeSpan).from > at) i--;
  const span = life[i];
  if (!span) return null;
  let first = i;
  while (first > 0 && isRunningState((life[first - 1] as LifeSpan).state)) first--;
  const runSince = isRunningState(span.state) ? (life[first] as LifeSpan).from : null;
  return { state: span.state, level: span.level, target: span.level, since: span.from, runSince };
}

const UNCLAIMED: Decided = { due: null, fleet: null, why: "no fleet in force matches" };

/** Says what is due at `at` by the chain of rules; one answer for all that nothing but their hours speaks for. */
function dueFinder({ world, at, holds }: AsOf): (resource: Resource, claim: Claim | null) => Decided {
  const dueOf = dueReader({ now: at, schedules: new Map(), capabilities: world.capabilities, holds, trips: new Map() });
  const held = new Set(holds.map(({ resourceId }) => resourceId));
  const shared = new Map<Claim, Decided>();
  const ask = (resource: Resource, { plan, hours }: Claim): Decided => {
    const { level, decidedBy, chain } = dueOf(resource, plan, hours);
    const why = chain.find(({ rule, applies }) => applies && rule === decidedBy)?.why ?? "no rule speaks";
    return { due: level, fleet: plan.name, why };
  };
  return (resource, claim) => {
    if (!claim) return UNCLAIMED;
    if (claim.isGuarded || (held.size > 0 && held.has(resource.id))) return ask(resource, claim);
    const due = shared.get(claim) ?? ask(resource, claim);
    shared.set(claim, due);
    return due;
  };
}

/** What is due ahead of now is taken to be kept. */
function asTheyWillBe(asOf: AsOf): StandingResource[] {
  const { world } = asOf;
  const dueOf = dueFinder(asOf);
  const sinceOf = turnFinder(asOf);
  const claims = claimsOf(world);
  return world.resources.map((resource, i) => {
    const claim = claims[i] ?? null;
    const then = dueOf(resource, claim);
    const isHeldBack = claim?.plan.starts === "hand" && then.due !== null && then.due > resource.level;
    if (!claim || then.due === null || claim.isGuarded || isHeldBack) return standingAs(resource, resource, then);
    return standingAs(resource, movedTo(resource, then.due, { since: () => sinceOf(claim), plan: claim.plan, world }), then);
  });
}

function movedTo(
  resource: StandingResource,
  due: Level,
  { since, plan, world }: { since: () => Instant; plan: FleetPlan; world: StoredWorld },
): StateOf {
  const level = (resource.kind === "machine" ? Math.min(1, due) : Math.min(resource.levelMax, due)) as Level;
  const isOn = isRunningState(resource.state);
  if (level > 0 && isOn) return { state: "running", level, target: level, since: resource.since, runSince: resource.runSince };
  if (level > 0) {
    const at = since();
    return { state: "running", level, target: level, since: at, runSince: at };
  }
  if (!isOn && resource.state !== "halted") return resource;
  const own = world.capabilities.get(resource.fields.provider ?? "");
  const hibernates = plan.offAction === "hibernate" && own !== undefined && whyNoHibernation(resource, own) === null;
  return { state: hibernates ? "hibernated" : "stopped", level, target: level, since: since(), runSince: null };
}

/** When what is due at `at` last turned on or off between now and then; now itself where a hold did it. */
function turnFinder({ at, now }: AsOf): (claim: Claim) => Instant {
  const known = new Map<Claim, Instant>();
  return (claim) => {
    const { hours, plan } = claim;
    if (hours.kind !== "schedule") return now;
    const turn = known.get(claim) ?? lastTurn(hours.compiled, { leadS: plan.lead * MINUTE_S, now, at });
    known.set(claim, turn);
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
