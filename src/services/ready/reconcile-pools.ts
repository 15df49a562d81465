import type { CompiledSchedule } from "@/core/hours";
import { asLevel } from "@/core/hours";
import { type FleetPlan, isGuarded, isRunningState, type Resource } from "@/core/plan";
import {
  type Choice,
  type ChoiceReason,
  chooseReady,
  isInUse,
  type PoolMachine,
  type Sessions,
  sessionsOf,
  withEvent,
} from "@/core/ready";
import {
  dueAt,
  type HoursOf,
  hoursFinder,
  type NewOverride,
  NO_OVERRIDE_CHANGES,
  newOverride,
  type Override,
  type OverrideChanges,
  overridesOn,
} from "@/core/rounds";
import { hoursTarget, type Target, unitsAt } from "@/core/targets";
import { DAY_S, formatDate, HOUR_S, type Instant, MINUTE_S } from "@/core/time";
import { everTold, failedStarts, lastSessionEvents, recentSamples, type StoredOverride } from "@/store";
import type { Services } from "../admin";
import { compileAll, plansInForce, resourcesByFleet, type Snapshot } from "../inventory";

/** What a pool's sessions are read from. */
export const SESSION_METRICS = ["sessions.active", "sessions.disconnected"] as const;
/** So far back sessions are looked at, at the least. */
const LOOK_BACK_S = HOUR_S;

/** A pool with its machines, and what says how many of them should be on. */
export type PoolNow = Readonly<{ plan: FleetPlan; members: readonly Resource[]; target: Target; spare: number }>;

/** The pools in force that have hours to go by. */
export function poolsOf(snapshot: Snapshot, now: Instant): PoolNow[] {
  const pools = plansInForce(snapshot).filter(({ pooled }) => pooled);
  if (pools.length === 0) return [];
  const schedules = compileAll(snapshot.schedules, snapshot.calendars);
  const find = hoursFinder(schedules, snapshot.capabilities);
  const members = resourcesByFleet(snapshot);
  return pools.flatMap((plan): PoolNow[] => {
    const own = (members.get(plan.name) ?? []).filter(({ kind }) => kind === "machine");
    const [first] = own;
    const found: HoursOf = first ? find(first, { hours: plan.hours, pooled: undefined }) : { kind: "none" };
    if (found.kind !== "schedule") return [];
    const target = hoursTarget(found.compiled, { leadMinutes: plan.lead, all: own.length });
    return [{ plan, members: own, target, spare: spareAt(plan, { schedules, now }) }];
  });
}

/** The spare machines wanted at an instant: the plan's number, or the level of the schedule that it names. */
export function spareAt(
  { pooled }: Pick<FleetPlan, "pooled">,
  { schedules, now }: Readonly<{ schedules: ReadonlyMap<string, CompiledSchedule>; now: Instant }>,
): number {
  if (typeof pooled?.spare !== "string") return pooled?.spare ?? 0;
  const compiled = schedules.get(pooled.spare);
  return compiled ? (unitsAt(hoursTarget(compiled, { leadMinutes: 0, all: 1 }), now) ?? 0) : 0;
}

/** What a round knows when it chooses for pools. */
export type PoolState = Readonly<{ snapshot: Snapshot; overrides: readonly StoredOverride[]; now: Instant }>;

/** What a choice needs besides what the round has read. */
export type PoolFacts = Readonly<{
  /** What is known of the sessions of the pools in force, by pool. */
  sessions: ReadonlyMap<string, PoolSessions>;
  /** Machines that were started of late and did not come on. */
  failing: ReadonlySet<string>;
}>;

/** One that could not be started is not chosen before others for so long. */
const FAILING_S = 30 * MINUTE_S;

/** Reads what choices for the pools in force need. */
export async function poolFacts(
  services: Services,
  { snapshot, now }: Readonly<{ snapshot: Snapshot; now: Instant }>,
): Promise<PoolFacts> {
  const pools = poolsOf(snapshot, now);
  if (pools.length === 0) return { sessions: new Map(), failing: new Set() };
  const ids = pools.flatMap(({ members }) => members.map(({ id }) => id));
  const [sessions, failing] = await Promise.all([
    sessionsNow(services, { pools, now }),
    failedStarts(services.pool, ids, now - FAILING_S),
  ]);
  return { sessions, failing };
}

/** Chooses for every pool in force: what differs from the hours of each machine's place is an override. Pure. */
export function poolChanges({ snapshot, overrides, now }: PoolState, { sessions, failing }: PoolFacts): OverrideChanges {
  const pools = poolsOf(snapshot, now);
  const kept = overrides.filter(({ kind }) => kind === "ready");
  if (pools.length === 0 && kept.length === 0) return NO_OVERRIDE_CHANGES;
  const others = overrides.filter(({ kind }) => kind !== "ready");
  const find = hoursFinder(compileAll(snapshot.schedules, snapshot.calendars), snapshot.capabilities);
  const add: NewOverride[] = [];
  const move: { id: number; to: Instant }[] = [];
  const standing = new Map(kept.map((choice) => [choice.resourceId ?? "", choice]));
  const asChosen = new Set<number>();
  for (const one of pools) {
    const { choices } = chosenNow(one, { sessions: sessions.get(one.plan.name) ?? null, failing, overrides: others, now });
    const to = Math.min(now + DAY_S, one.target.changeAfter(now) ?? now + DAY_S);
    for (const resource of one.members) {
      const choice = choices.get(resource.id);
      const found = find(resource, one.plan);
      const byHours =
        found.kind === "schedule" ? unitsAt(hoursTarget(found.compiled, { leadMinutes: one.plan.lead, all: 1 }), now) : null;
      const level = asLevel(choice?.isOn ? 1 : 0);
      if (!choice || byHours === level) continue;
      const known = standing.get(resource.id);
      if (known?.level === level) {
        asChosen.add(known.id);
        if (known.to !== to) move.push({ id: known.id, to });
      } else
        add.push(
          newOverride("ready", {
            resourceId: resource.id,
            level,
            from: now,
            to,
            reason: words(choice),
            person: "ready machines",
          }),
        );
    }
  }
  const ended = kept.flatMap(({ id }) => (asChosen.has(id) ? [] : [id]));
  return { end: [{ ids: ended, at: now, by: "ready machines" }], move, add };
}

const CHOICE_WORDS: Readonly<Record<ChoiceReason, string>> = {
  "held on": "held on",
  "held off": "held off",
  "in use": "in use",
  "just started": "it has just started",
  spare: "spare",
  hours: "the hours",
  "enough are on": "enough others are on",
};

function words({ isOn, reason }: Choice): string {
  const said = CHOICE_WORDS[reason];
  return isOn ? `one of those that are to be ready: ${said}` : `others are ready in its place: ${said}`;
}

/** What is known of the sessions of a pool's machines; null for a fleet that tells of none. */
export type PoolSessions = ReadonlyMap<string, Sessions> | null;

type Choosing = Readonly<{
  sessions: PoolSessions;
  failing: ReadonlySet<string>;
  overrides: readonly StoredOverride[];
  now: Instant;
}>;

/** The choice for one pool, by what is known now. */
export function chosenNow({ plan, members, target, spare }: PoolNow, { sessions, failing, overrides, now }: Choosing) {
  const { pooled } = plan;
  if (!pooled) throw new Error(`${plan.name} is no pool`);
  const onIt = overridesOn(overrides);
  const machines = members.map((resource): PoolMachine => {
    const runs = isRunningState(resource.state) && resource.level > 0;
    const since = runs ? (resource.runSince ?? resource.since) : resource.since;
    return {
      id: resource.id,
      name: resource.name,
      state:
        resource.state === "starting" ? "starting" : runs ? "running" : resource.state === "hibernated" ? "hibernated" : "off",
      since,
      isGuarded: isGuarded(resource),
      held: heldTo(resource, { plan, overrides: onIt(resource.id, plan.name), now }),
      isInUse: runs && sessions !== null && isInUse(sessions.get(resource.id) ?? null, { pooled, since, now }),
      isFailing: failing.has(resource.id),
    };
  });
  return chooseReady(machines, {
    hours: unitsAt(target, now),
    spare,
    settleMinutes: pooled.settle,
    now,
  });
}

/** What holds, trips and persons' starts say of a machine, hours left out. */
function heldTo(
  resource: Resource,
  { plan, overrides, now }: Readonly<{ plan: FleetPlan; overrides: readonly Override[]; now: Instant }>,
): PoolMachine["held"] {
  const { level } = dueAt(resource, { now, fleet: plan, overrides, hours: { kind: "none" } });
  return level === null ? null : level > 0 ? "on" : "off";
}

/** The sessions of each pool's machines, by pool; null for one whose machines never tell of any. While that is not known, what runs counts as in use. */
export async function sessionsNow(
  { pool }: Services,
  { pools, now }: Readonly<{ pools: readonly PoolNow[]; now: Instant }>,
): Promise<Map<string, PoolSessions>> {
  const waits = pools.flatMap(({ plan: { pooled } }) => [pooled?.disconnectWait ?? 0, pooled?.signOffWait ?? 0]);
  const ids = pools.flatMap(({ members }) => members.map(({ id }) => id));
  const from = now - Math.max(LOOK_BACK_S, ...waits.map((wait) => wait * MINUTE_S + LOOK_BACK_S));
  const [samples, events] = await Promise.all([
    recentSamples(pool, { ids, metrics: SESSION_METRICS, from, to: now }),
    lastSessionEvents(pool, ids, from),
  ]);
  const answers = await Promise.all(
    pools.map(async ({ plan, members }): Promise<[string, PoolSessions]> => {
      const known = members.flatMap(({ id }) => {
        const inOrder = [...(samples.get(id) ?? [])].sort((a, b) => a.at - b.at);
        const own = withEvent(sessionsOf(inOrder), events.get(id));
        return own ? [[id, own] as const] : [];
      });
      if (known.length > 0) return [plan.name, new Map(known)];
      // Nothing now is not nothing ever: only machines that tell of other things, and never told of sessions, have none.
      const from = formatDate(Math.floor(now / DAY_S) - TOLD_DAYS);
      const { any, these } = await everTold(pool, { ids: members.map(({ id }) => id), metrics: SESSION_METRICS, from });
      return [plan.name, any && !these ? null : new Map()];
    }),
  );
  return new Map(answers);
}

/** So far back it is looked at whether machines tell of sessions at all. */
const TOLD_DAYS = 28;
