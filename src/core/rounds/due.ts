import { type CompiledSchedule, type Considered, expand, expandWithLead, type Level, OFF, OUTSIDE } from "../hours";
import { type FleetPlan, isGuarded, type Resource } from "../plan";
import { formatInstant, type Instant, MINUTE_S } from "../time";
import type { HoursOf } from "./hours-of";

/** A manual exception: `level` holds from `from` to `to`. Bound to one resource or one fleet. Of several the one placed last counts. */
export type Hold = Readonly<{
  id: number;
  resourceId: string | null;
  fleet: string | null;
  level: Level;
  from: Instant;
  to: Instant;
  reason: string;
  /** It stands for a person's start within its grace: it gives way to holds, never to hours. */
  isStart?: true;
  /** It stands for an idle trip, above a person's start and hours, below holds; `level` is off. */
  trip?: Readonly<{ hibernates: boolean }>;
  /** It stands for what was chosen for a machine of a pool, above its hours and below all else. */
  isReady?: true;
}>;

/** The level a resource ought to have, the rule that decided, and every rule that was considered, in order. */
export type Due = Readonly<{
  /** Null: leave it as it is. */
  level: Level | null;
  /** What its hours alone say; null where they say nothing, or may not be followed. */
  hours: Level | null;
  decidedBy: string;
  /** How it is turned off where an idle rule says so; its fleet's way where null. */
  offAction: FleetPlan["offAction"] | null;
  chain: readonly Considered[];
}>;

/** What the hours of one fleet and schedule say now; the same for every resource that follows them. */
export type HoursNow = Readonly<{ level: Level | null; why: string }>;

/** The level that a schedule gives a resource of a size at `t` with a lead in minutes, and why in words. */
export function hoursAt(compiled: CompiledSchedule, t: Instant, { leadMinutes, ownSize }: HoursFor): HoursNow {
  const leadS = leadMinutes * MINUTE_S;
  const [now] = expandWithLead(compiled, { from: t, to: t + 1, leadS, ownSize });
  if (!now) throw new Error("an interval covers every instant");
  const isEarly = now.level !== expand(compiled, t, t + 1, ownSize)[0]?.level;
  const lead = isEarly ? `, ${leadMinutes} min ahead` : "";
  const { name, zone } = compiled.schedule;
  const place = now.because === OUTSIDE ? "outside its spans" : `row ${now.because}`;
  return { level: now.level, why: `${name} (${zone}) says ${levelWord(now.level)}, ${place}${lead}` };
}

/** For whom hours are asked: minutes of lead, and what on means. */
export type HoursFor = Readonly<{ leadMinutes: number; ownSize: Level }>;

function levelWord(level: Level | null): string {
  if (level === null) return "leave";
  return level === 0 ? "off" : level === 1 ? "on" : `level ${level}`;
}

export type DueInput = Readonly<{
  now: Instant;
  fleet: FleetPlan;
  holds: readonly Hold[];
  hours: HoursSource;
}>;

/** What the hours that a resource follows say now, or why they say nothing. */
export type HoursSource = Exclude<HoursOf, { kind: "schedule" }> | Readonly<{ kind: "schedule"; now: HoursNow }>;

/** The first rule that speaks decides: guard, hold on the resource, hold on its fleet, idle trip, a person's start, a pool's choice, hours, else leave. */
export function dueAt(resource: Resource, { now, fleet, holds, hours }: DueInput): Due {
  const active = holds.filter((hold) => hold.from <= now && now < hold.to);
  const onIt = active.filter(({ resourceId }) => resourceId === resource.id);
  const own = newest(onIt.filter(isPlaced));
  const tripped = newest(onIt.filter(({ trip }) => trip));
  const started = newest(onIt.filter(({ isStart }) => isStart));
  const chosen = newest(onIt.filter(({ isReady }) => isReady));
  const shared = newest(active.filter((hold) => hold.resourceId === null && hold.fleet === fleet.name));
  const rules: readonly (Considered & { level: Level | null })[] = [
    guardRule(resource),
    holdRule("hold on the resource", own),
    holdRule("hold on the fleet", shared),
    tripRule(tripped),
    startRule(started, hours),
    ...(fleet.pooled ? [readyRule(chosen)] : []),
    hoursRule(hours),
  ];
  const decided = rules.find(({ applies }) => applies);
  const chain = rules.map(({ rule, applies, why }) => ({ rule, applies, why }));
  const ownHours = hours.kind === "schedule" && !isGuarded(resource) ? hours.now.level : null;
  if (!decided)
    return {
      level: null,
      hours: ownHours,
      decidedBy: "leave",
      offAction: null,
      chain: [...chain, { rule: "leave", applies: true, why: "no rule speaks" }],
    };
  return { level: decided.level, hours: ownHours, decidedBy: decided.rule, offAction: offActionOf(decided.rule, tripped), chain };
}

export const IDLE_TRIP = "idle trip";

/** True of a hold that a person placed. */
export function isPlaced({ isStart, trip, isReady }: Pick<Hold, "isStart" | "trip" | "isReady">): boolean {
  return !isStart && !trip && !isReady;
}

/** The rule by which a pool chooses otherwise than its hours by their places. */
export const READY = "ready machines";

function readyRule(chosen: Hold | undefined): Considered & { level: Level | null } {
  if (!chosen) return { rule: READY, applies: false, why: "the pool goes by its hours here", level: null };
  return { rule: READY, applies: true, why: chosen.reason, level: chosen.level };
}

/** How a trip turns off what it decides on. */
export function offActionOf(decidedBy: string, tripped: Pick<Hold, "trip"> | null | undefined): FleetPlan["offAction"] | null {
  if (decidedBy !== IDLE_TRIP || !tripped?.trip) return null;
  return tripped.trip.hibernates ? "hibernate" : "stop";
}

function tripRule(tripped: Hold | undefined): Considered & { level: Level | null } {
  const rule = IDLE_TRIP;
  if (!tripped) return { rule, applies: false, why: "no idle alarm has tripped", level: OFF };
  return { rule, applies: true, why: `tripped at ${formatInstant(tripped.from)}: ${tripped.reason}`, level: OFF };
}

function newest(holds: readonly Hold[]): Hold | undefined {
  return holds.reduce<Hold | undefined>((last, hold) => (last && last.id > hold.id ? last : hold), undefined);
}

function guardRule(resource: Resource): Considered & { level: Level | null } {
  const applies = isGuarded(resource);
  return { rule: "guard", applies, why: applies ? "a guard tag forbids any action" : "no guard tag", level: null };
}

function holdRule(rule: string, hold: Hold | undefined): Considered & { level: Level | null } {
  if (!hold) return { rule, applies: false, why: "no hold", level: null };
  return {
    rule,
    applies: true,
    why: `${levelWord(hold.level)} until ${formatInstant(hold.to)}: ${hold.reason}`,
    level: hold.level,
  };
}

/** What a person started stays as it is, or rises where hours want more. */
function startRule(start: Hold | undefined, hours: HoursSource): Considered & { level: Level | null } {
  const rule = "person's start";
  if (!start) return { rule, applies: false, why: "nobody started it of late", level: null };
  return {
    rule,
    applies: true,
    why: `${start.reason}; kept until ${formatInstant(start.to)}`,
    level: keptLevel(start, hours.kind === "schedule" ? hours.now.level : null),
  };
}

/** The level of a person's start where hours say a level of their own. */
export function keptLevel(start: Pick<Hold, "level">, hours: Level | null): Level {
  return hours !== null && hours > start.level ? hours : start.level;
}

function hoursRule(hours: HoursSource): Considered & { level: Level | null } {
  switch (hours.kind) {
    case "none":
      return { rule: "hours", applies: false, why: "the fleet has no hours", level: null };
    case "untagged":
      return { rule: "hours", applies: false, why: `the resource has no tag ${hours.key} to take hours from`, level: null };
    case "unknown":
      return { rule: "hours", applies: false, why: `no schedule is named "${hours.text}"${nearestWord(hours)}`, level: null };
    case "unreadable":
      return {
        rule: "hours",
        applies: false,
        why: `"${hours.text}" does not read, ${hours.message}${nearestWord(hours)}`,
        level: null,
      };
    case "schedule":
      return { rule: "hours", applies: hours.now.level !== null, why: hours.now.why, level: hours.now.level };
  }
}

function nearestWord({ nearest }: { nearest: string | null }): string {
  return nearest === null ? "" : `; the nearest is "${nearest}"`;
}
