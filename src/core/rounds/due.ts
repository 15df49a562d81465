import { type CompiledSchedule, expand, expandWithLead, type Level, OUTSIDE } from "../hours";
import { type FleetPlan, isGuarded, type Resource } from "../plan";
import { type Instant, MINUTE_S } from "../time";
import type { HoursOf } from "./hours-of";
import {
  byRule,
  levelUnder,
  newestAt,
  OVERRIDE_ORDER,
  OVERRIDES,
  type Override,
  type OverrideRule,
  type RuleName,
} from "./override";
import type { HoursSaid, RuleRead, RuleReason } from "./reason";

/** The level a resource ought to have, the rule that decided, and every rule that was considered, in order. */
export type Due = Readonly<{
  /** Null: leave it as it is. */
  level: Level | null;
  /** What its hours alone say; null where they say nothing, or may not be followed. */
  hours: Level | null;
  decidedBy: RuleName;
  /** How it is turned off where an idle rule says so; its fleet's way where null. */
  offAction: FleetPlan["offAction"] | null;
  chain: readonly RuleRead[];
}>;

/** What the hours of one fleet and schedule say now; the same for every resource that follows them. */
export type HoursNow = HoursSaid;

/** The level that a schedule gives a resource of a size at `t` with a lead in minutes, and by which of its rows. */
export function hoursAt(compiled: CompiledSchedule, t: Instant, { leadMinutes, ownSize }: HoursFor): HoursNow {
  const leadS = leadMinutes * MINUTE_S;
  const [now] = expandWithLead(compiled, { from: t, to: t + 1, leadS, ownSize });
  if (!now) throw new Error("an interval covers every instant");
  const isEarly = now.level !== expand(compiled, t, t + 1, ownSize)[0]?.level;
  const { name, zone } = compiled.schedule;
  const row = now.because === OUTSIDE ? null : now.because;
  return { code: "hours", schedule: name, zone, level: now.level, row, aheadMinutes: isEarly ? leadMinutes : 0 };
}

/** For whom hours are asked: minutes of lead, and what on means. */
export type HoursFor = Readonly<{ leadMinutes: number; ownSize: Level }>;

export type DueInput = Readonly<{
  now: Instant;
  fleet: FleetPlan;
  overrides: readonly Override[];
  hours: HoursSource;
}>;

/** What the hours that a resource follows say now, or why they say nothing. */
export type HoursSource = Exclude<HoursOf, { kind: "schedule" }> | Readonly<{ kind: "schedule"; now: HoursNow }>;

type Ruling = Readonly<{ rule: RuleName; applies: boolean; reason: RuleReason; level: Level | null }>;

/** The first rule that speaks decides: guard, the overrides in their order, hours, else leave. */
export function dueAt(resource: Resource, { now, fleet, overrides, hours }: DueInput): Due {
  const ownHours = hours.kind === "schedule" && !isGuarded(resource) ? hours.now.level : null;
  const lists = byRule(overrides, { resourceId: resource.id, plan: fleet });
  const inEffect = lists.map((own) => newestAt(own, now));
  const rules: readonly Ruling[] = [
    guardRule(resource),
    ...OVERRIDE_ORDER.flatMap((rule, i): Ruling[] =>
      OVERRIDES[rule.kind].isOfPool && !fleet.pooled ? [] : [overrideRule(rule, inEffect[i] ?? null, ownHours)],
    ),
    hoursRule(hours),
  ];
  const decided = rules.find(({ applies }) => applies);
  const chain = rules.map(({ rule, applies, reason }) => ({ rule, applies, reason }));
  if (!decided)
    return {
      level: null,
      hours: ownHours,
      decidedBy: "leave",
      offAction: null,
      chain: [...chain, { rule: "leave", applies: true, reason: { code: "no rule" } }],
    };
  const offAction = inEffect[OVERRIDE_ORDER.findIndex(({ name }) => name === decided.rule)]?.offAction ?? null;
  return { level: decided.level, hours: ownHours, decidedBy: decided.rule, offAction, chain };
}

function overrideRule(rule: OverrideRule, override: Override | null, hours: Level | null): Ruling {
  if (!override) return { rule: rule.name, applies: false, reason: { code: "no override", kind: rule.kind }, level: null };
  const { kind, level, from, to, reason } = override;
  const said = { code: "override", kind, level, from, to, reason } as const;
  return { rule: rule.name, applies: true, reason: said, level: levelUnder(override, hours) };
}

function guardRule(resource: Resource): Ruling {
  const applies = isGuarded(resource);
  return { rule: "guard", applies, reason: { code: applies ? "guarded" : "not guarded" }, level: null };
}

function hoursRule(hours: HoursSource): Ruling {
  if (hours.kind !== "schedule") return { rule: "hours", applies: false, reason: { code: "no hours", of: hours }, level: null };
  return { rule: "hours", applies: hours.now.level !== null, reason: hours.now, level: hours.now.level };
}
