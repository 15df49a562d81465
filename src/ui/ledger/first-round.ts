import type { CompiledSchedule } from "@/core/hours";
import { type CapabilitiesByAccount, type FleetPlan, isGuarded, type Resource } from "@/core/plan";
import {
  type Decision,
  decideFirstRound,
  type HoursOf,
  hoursFinder,
  type Lowered,
  loweredBelow,
  noHibernationWords,
} from "@/core/rounds";
import { MINUTE_S } from "@/core/time";
import type { Basis } from "@/services/cost";

/** A plan as it is being edited, with what it is laid on. */
export type PlanOnBasis = Readonly<{ basis: Basis; plan: FleetPlan | null; schedules: ReadonlyMap<string, CompiledSchedule> }>;

export function capabilitiesOf({ capabilities }: Basis): CapabilitiesByAccount {
  return new Map(capabilities);
}

/** What a tag says on some machines, and what it means. */
export type SaidHours = Readonly<{ found: HoursOf; text: string; machines: readonly string[] }>;

/** What each machine's tag says of its hours, what cannot be followed first; empty where hours are not named by tag. */
export function saidHours({ basis, plan, schedules }: PlanOnBasis): readonly SaidHours[] {
  if (!plan || plan.hours === undefined || typeof plan.hours === "string") return [];
  const { fromTag } = plan.hours;
  const find = hoursFinder(schedules, capabilitiesOf(basis));
  const said = new Map<HoursOf, { found: HoursOf; text: string; machines: string[] }>();
  for (const { resource } of basis.lines) {
    const found = find(resource, plan);
    const known = said.get(found) ?? { found, text: resource.tags[fromTag]?.trim() ?? "", machines: [] };
    known.machines.push(resource.name);
    said.set(found, known);
  }
  const order = { unknown: 0, unreadable: 0, untagged: 1, schedule: 2, none: 2 };
  return [...said.values()].sort((a, b) => order[a.found.kind] - order[b.found.kind] || b.machines.length - a.machines.length);
}

export type FirstRound = Readonly<{
  stops: readonly Resource[];
  starts: readonly Resource[];
  resizes: readonly Readonly<{ resource: Resource; level: number }>[];
  /** Groups and services that the hours never let run at what they have had. */
  lowered: readonly Lowered[];
  guarded: number;
  claimed: number;
  whyNoHibernation: readonly Readonly<{ name: string; why: string }>[];
}>;

/** What the first round would do if this went live now, from the same rules that rounds go by. */
export function firstRound({ basis, plan, schedules }: PlanOnBasis): FirstRound {
  const free = basis.lines.filter(({ claimedBy }) => claimedBy === null);
  const byId = new Map(free.map(({ resource }) => [resource.id, resource]));
  const decisions =
    plan && plan.hours !== undefined
      ? decideFirstRound({
          now: basis.now,
          resources: [...byId.values()],
          fleets: [plan],
          schedules,
          overrides: basis.holds,
          lastDue: new Map(Object.entries(basis.lastDue)),
          capabilities: capabilitiesOf(basis),
          roundEveryS: MINUTE_S,
        })
      : [];
  const find = hoursFinder(schedules, capabilitiesOf(basis));
  const acting = decisions.filter(({ verdict }) => verdict === "act");
  const pick = (test: (decision: Decision) => boolean) =>
    acting.filter(test).map(({ resourceId }) => byId.get(resourceId) as Resource);
  return {
    stops: pick(({ action }) => action !== null && action.level === 0),
    starts: pick(({ action }) => action?.verb === "start"),
    resizes: acting
      .filter(({ action }) => action?.verb === "resize" && action.level > 0)
      .map(({ resourceId, action }) => ({ resource: byId.get(resourceId) as Resource, level: action?.level ?? 0 })),
    lowered: plan ? loweredBelow([...byId.values()], { plan, hoursOf: (resource) => find(resource, plan) }) : [],
    guarded: basis.lines.filter(({ resource }) => isGuarded(resource)).length,
    claimed: basis.lines.length - free.length,
    whyNoHibernation:
      plan?.offAction === "hibernate"
        ? free.flatMap(({ resource, whyNoHibernation }) =>
            whyNoHibernation ? [{ name: resource.name, why: noHibernationWords(whyNoHibernation) }] : [],
          )
        : [],
  };
}
