import { OFF } from "@/core/hours";
import {
  type Alarm,
  evaluate,
  type IdleRule,
  metricsOf,
  metricsRead,
  ruleKey,
  ruleWords,
  type Sample,
  type Slots,
  slotsOf,
  waitOf,
  windowSamples,
} from "@/core/idle";
import type { Resource } from "@/core/plan";
import { hoursAt, type NewOverride, newOverride, type OverrideChanges, overridesOn, ROUND_EVERY_S } from "@/core/rounds";
import { type Instant, MINUTE_S } from "@/core/time";
import {
  type AlarmChange,
  type AlarmNews,
  type AlarmPause,
  alarmList,
  alarmPauses,
  type Pool,
  type RecentSample,
  recentSamples,
  type StoredAlarm,
  type StoredOverride,
} from "@/store";
import type { Services } from "../admin";
import { type Claim, claimsOf, type Snapshot } from "../inventory";
import { BACK_S, type UsualLateness, usualLatenessNow } from "../metrics";
import { doubtUnits, type UsualMetrics, usualMetrics } from "./doubt-units";
import { FOR_GOOD_S, nextRise } from "./next-rise";

/** A resource whose fleet has idle rules, and what it follows. */
type Watched = Readonly<{ resource: Resource; claim: Claim; rules: readonly IdleRule[] }>;

/** Every resource that an idle rule in force watches. */
export function watchedOf(snapshot: Snapshot): Watched[] {
  const claims = claimsOf(snapshot);
  return snapshot.resources.flatMap((resource, i): Watched[] => {
    const claim = claims[i];
    // One that is written twice is one.
    const rules = [...new Map((claim?.plan.idle ?? []).map((rule) => [ruleKey(rule), rule])).values()];
    return claim && !claim.isGuarded && rules.length > 0 ? [{ resource, claim, rules }] : [];
  });
}

/** The metrics that idle rules in force read, and the accounts whose resources they watch. */
export function metricsWatched(snapshot: Snapshot): { metrics: string[]; accounts: Snapshot["accounts"] } {
  const watched = watchedOf(snapshot);
  const rules = new Set(watched.flatMap(({ rules: own }) => own));
  const accounts = new Set(watched.map(({ resource }) => resource.fields.account));
  return {
    metrics: [...new Set([...rules].flatMap(metricsRead))],
    accounts: snapshot.accounts.filter(({ name }) => accounts.has(name)),
  };
}

/** What the step of idle alarms needs besides what the round has read. */
export type IdleFacts = Readonly<{
  watched: readonly Watched[];
  stored: readonly StoredAlarm[];
  looks: readonly Evaluation[];
  /** What the metrics of those that have just warned or tripped were on the days before. */
  usual: UsualMetrics;
}>;

/** What a round knows when it looks at idle alarms. */
export type IdleState = Readonly<{
  snapshot: Snapshot;
  overrides: readonly StoredOverride[];
  /** Stops that are held back, by resource. */
  held: ReadonlyMap<string, unknown>;
  now: Instant;
}>;

/** Reads alarms, pauses and samples, and looks at every alarm once. */
export async function idleFacts({ pool }: Services, state: IdleState): Promise<IdleFacts> {
  const { snapshot, overrides, now } = state;
  const watched = watchedOf(snapshot);
  const stored = await alarmList(pool);
  if (watched.length === 0 && stored.length === 0 && !overrides.some(({ kind }) => kind === "trip"))
    return { watched, stored, looks: [], usual: new Map() };
  const [samples, pauses, lateness] = await Promise.all([
    samplesOf(pool, { watched, stored, now }),
    alarmPauses(pool, now),
    usualLatenessNow(pool, now, [...new Set(watched.flatMap(({ rules }) => rules.flatMap(metricsOf)))]),
  ]);
  const looks = evaluateAll(watched, { ...state, stored, samples, pauses, lateness });
  return { watched, stored, looks, usual: await usualMetrics(pool, looks, now) };
}

type LookingAll = IdleState & Readonly<{ stored: readonly StoredAlarm[] }> & Pick<Looking, "samples" | "pauses" | "lateness">;

/** Every alarm as it stands after the samples that have come. Pure. */
export function evaluateAll(
  watched: readonly Watched[],
  { snapshot, overrides, held, now, stored, samples, pauses, lateness }: LookingAll,
): Evaluation[] {
  const ended = endedTrips(tripsOf(overrides), { snapshot, watched });
  const onIt = overridesOn(overrides.filter(({ id }) => !ended.has(id)));
  const before = new Map(stored.map((alarm) => [keyOf(alarm), alarm]));
  const looking = { now, onIt, held, pauses, samples, lateness, before };
  return watched.flatMap((one) => one.rules.map((rule) => evaluateOne(one, { rule, ...looking })));
}

/** What follows of alarms and trips. */
export type IdleChanges = Readonly<{ overrides: OverrideChanges; alarms: AlarmNews }>;

/**
 * Ends trips that a start or the hours ended, writes down what changed of alarms, and keeps new trips. Nothing trips on
 * samples that are no longer fresh, or unlike all of the days before. Pure.
 */
export function idleChanges(
  { snapshot, overrides, held, now }: IdleState,
  { watched, stored, looks: all, usual }: IdleFacts,
): IdleChanges {
  const trips = tripsOf(overrides);
  const ended = endedTrips(trips, { snapshot, watched });
  const looks = doubtUnits(all, { usual, now });
  const used = usedAgain(trips, { held, looks });
  const seen = new Set(looks.map(({ alarm }) => keyOf(alarm)));
  const news = looks.filter(({ alarm, last }) => alarm !== last);
  const moved = movedEnds(
    trips.filter(({ id }) => !ended.has(id) && !used.has(id)),
    { watched, now },
  );
  return {
    overrides: {
      end: [
        { ids: [...ended], at: now, by: "its start" },
        { ids: [...used], at: now, by: "its use" },
      ],
      move: moved,
      add: news.flatMap(({ trip }) => trip ?? []),
    },
    alarms: {
      alarms: news.map(({ alarm }) => alarm),
      gone: stored.filter((alarm) => !seen.has(keyOf(alarm))),
      changes: news.flatMap(({ alarm, last, samples: led }) =>
        alarm.state === last?.state ? [] : [changeOf(alarm, { now, led })],
      ),
    },
  };
}

/** Trips whose stop was held back and whose machine somebody uses by now: they hold no more. */
function usedAgain(
  trips: readonly StoredOverride[],
  { held, looks }: { held: IdleState["held"]; looks: readonly Evaluation[] },
): Set<number> {
  if (held.size === 0) return new Set();
  const inUse = new Set(looks.flatMap(({ alarm }) => (alarm.state === "watching" ? [keyOf(alarm)] : [])));
  return new Set(
    trips.flatMap(({ id, resourceId, ruleKey }) =>
      resourceId !== null && held.has(resourceId) && inUse.has(keyOf({ resourceId, rule: ruleKey ?? "" })) ? [id] : [],
    ),
  );
}

function tripsOf(overrides: readonly StoredOverride[]): readonly StoredOverride[] {
  return overrides.filter(({ kind }) => kind === "trip");
}

function keyOf({ resourceId, rule }: Pick<StoredAlarm, "resourceId" | "rule">): string {
  return `${resourceId} ${rule}`;
}

/** Trips of what was started since, and of what no rule watches any more. */
function endedTrips(
  trips: readonly StoredOverride[],
  { snapshot, watched }: { snapshot: Snapshot; watched: readonly Watched[] },
): Set<number> {
  if (trips.length === 0) return new Set();
  const byId = new Map(snapshot.resources.map((resource) => [resource.id, resource]));
  const isWatched = new Set(watched.map(({ resource }) => resource.id));
  return new Set(
    trips.flatMap(({ id, resourceId, from }) => {
      const runSince = byId.get(resourceId ?? "")?.runSince ?? null;
      return (runSince !== null && runSince > from) || !isWatched.has(resourceId ?? "") ? [id] : [];
    }),
  );
}

/** Trips whose hours rise at another instant than they did when they tripped. */
function movedEnds(
  trips: readonly StoredOverride[],
  { watched, now }: { watched: readonly Watched[]; now: Instant },
): { id: number; to: Instant }[] {
  if (trips.length === 0) return [];
  // What has not ended by now ends with the next rise from now on: that is asked once for all that follow the same.
  const rises = new Map<Claim, Instant | null>();
  const claims = new Map(watched.map(({ resource, claim }) => [resource.id, claim]));
  return trips.flatMap(({ id, resourceId, from, to }) => {
    const claim = claims.get(resourceId ?? "");
    if (!claim) return [];
    const rise = rises.has(claim) ? (rises.get(claim) ?? null) : nextRise(now, claim);
    rises.set(claim, rise);
    const end = rise ?? from + FOR_GOOD_S;
    return end === to ? [] : [{ id, to: end }];
  });
}

/** So long a gap between two looks is caught up with. */
const GAP_S = 6 * 3600;
const SLACK_S = 1800;

async function samplesOf(
  pool: Pool,
  { watched, stored, now }: { watched: readonly Watched[]; stored: readonly StoredAlarm[]; now: Instant },
): Promise<ReadonlyMap<string, readonly RecentSample[]>> {
  const running = watched.filter(({ resource }) => resource.runSince !== null);
  const rules = [...new Set(running.flatMap(({ rules: own }) => own))];
  if (rules.length === 0) return new Map();
  const longest = Math.max(...rules.flatMap(({ conditions }) => conditions.map(({ window }) => window * MINUTE_S)));
  // A window before the first slot that was not looked at yet; what is blind for long asks for no more than a gap of hours.
  const seen = stored.flatMap(({ seenUntil }) => (seenUntil !== null && seenUntil > now - GAP_S ? [seenUntil] : []));
  const unseen = seen.reduce((longestYet, t) => Math.max(longestYet, now - t), 0);
  const from = now - Math.min(BACK_S, longest + SLACK_S + unseen);
  return recentSamples(pool, {
    ids: running.map(({ resource }) => resource.id),
    metrics: [...new Set(rules.flatMap(metricsRead))],
    from,
    to: now,
  });
}

type Looking = Readonly<{
  rule: IdleRule;
  now: Instant;
  before: ReadonlyMap<string, StoredAlarm>;
  onIt: (resourceId: string, fleet: string) => readonly StoredOverride[];
  held: IdleState["held"];
  pauses: readonly AlarmPause[];
  samples: ReadonlyMap<string, readonly RecentSample[]>;
  /** How late metrics usually come. */
  lateness: UsualLateness;
}>;
/** What a look at one alarm has come to. */
export type Evaluation = Readonly<{
  alarm: StoredAlarm;
  last: StoredAlarm | undefined;
  rule: IdleRule;
  /** What led to it, where it has just warned or tripped. */
  samples: AlarmChange["samples"];
  /** Set where it has just tripped. */
  trip: NewOverride | null;
}>;

/** A slot that ended longer ago, in rounds or in steps, is too old to act on. */
const FRESH = 2;

function evaluateOne(
  { resource, claim }: Watched,
  { rule, now, before, onIt, held: heldStops, pauses, samples, lateness }: Looking,
): Evaluation {
  const words = ruleWords(rule);
  const own = { resourceId: resource.id, rule: ruleKey(rule), fleet: claim.plan.name, words };
  const last = before.get(keyOf(own));
  const slots = slotsFrom(samples.get(resource.id) ?? [], rule);
  const stepS = slots?.stepS ?? (rule.step ?? 5) * MINUTE_S;
  const waitS = waitOf(latenessOf(rule, lateness, resource.fields.account ?? ""), stepS);
  const holds = onIt(resource.id, claim.plan.name);
  const held = holds.find((hold) => hold.kind === "hold" && hold.level > 0 && hold.from <= now && now < hold.to);
  const pause = pauses.find(({ resourceId, fleet }) => resourceId === resource.id || fleet === claim.plan.name);
  const alarm: Alarm = evaluate(last ?? null, {
    rule,
    now,
    slots,
    startedAt: resource.level > 0 ? resource.runSince : null,
    isTripped:
      rule.action !== "tell" &&
      holds.some(({ kind, ruleKey: key, from, to }) => kind === "trip" && key === own.rule && from <= now && now < to),
    isHeldBack: heldStops.has(resource.id),
    paused: pause ? { code: "paused", person: pause.person, until: pause.to, reason: pause.reason } : null,
    held: held ? { code: "held on", until: held.to, reason: held.reason } : null,
    appliesAt: (t) => applies(rule, claim, t),
    freshFrom: now - waitS - FRESH * Math.max(ROUND_EVERY_S, stepS),
    waitS,
    riseAfter: (t) => nextRise(t, claim),
  });
  const isSame = alarm === last && last.fleet === own.fleet;
  const whole: StoredAlarm = isSame ? last : { ...alarm, ...own };
  const isNews = alarm.state !== last?.state && (alarm.state === "warned" || alarm.state === "tripped");
  const hasTripped = isNews && alarm.state === "tripped";
  const at = alarm.seenUntil ?? now;
  return {
    alarm: whole,
    last: isSame ? whole : last,
    rule,
    samples: isNews && slots ? windowSamples(rule, slots, at) : null,
    trip:
      hasTripped && rule.action !== "tell"
        ? newOverride("trip", {
            resourceId: resource.id,
            ruleKey: own.rule,
            offAction: rule.action,
            level: OFF,
            from: now,
            to: nextRise(now, claim) ?? now + FOR_GOOD_S,
            reason: words,
            person: "an idle alarm",
          })
        : null,
  };
}

function changeOf(alarm: StoredAlarm, { now, led }: { now: Instant; led: AlarmChange["samples"] }): Omit<AlarmChange, "id"> {
  const { resourceId, fleet, rule, words, state, reason } = alarm;
  return { at: now, resourceId, fleet, ruleKey: rule, words, state, reason, samples: led };
}

/** Rules apply always, or by the level of the hours, lead counted; a resource without hours is outside them. */
function applies({ applies: when }: IdleRule, { hours, ownSize, plan }: Claim, t: Instant): boolean {
  if (when === "always") return true;
  const level = hours.kind === "schedule" ? hoursAt(hours.compiled, t, { leadMinutes: plan.lead, ownSize }).level : null;
  return (when === "inside") === (level !== null && level > 0);
}

/** How late the latest of a rule's metrics usually comes, in seconds; null where none is known to have come. */
function latenessOf(rule: IdleRule, lateness: UsualLateness, account: string): number | null {
  const known = metricsOf(rule).flatMap((metric) => lateness.of(account, metric) ?? []);
  return known.length === 0 ? null : Math.max(...known);
}

/** Samples as slots of the step that the rule names, or that its source has. */
function slotsFrom(samples: readonly RecentSample[], rule: IdleRule): Slots | null {
  const metrics = metricsRead(rule);
  const own = samples.filter(({ metric }) => metrics.includes(metric));
  if (own.length === 0) return null;
  const stepS = rule.step !== undefined ? rule.step * MINUTE_S : Math.max(...own.map((sample) => sample.stepS));
  return slotsOf(own satisfies readonly Sample[], { stepS, metrics });
}
