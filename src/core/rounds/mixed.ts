import type { Level } from "../hours";
import { type FleetPlan, isGuarded, type Resource } from "../plan";
import type { Decision } from "./decide";

/** What a mix has given a group, in its units: those that are there at all, and those that are of use by now. */
export type MemberUnits = Readonly<{ there: number; up: number }>;

/**
 * The groups of a fleet that a mix would be kept for. A mix is one of machines: where there are several it is kept for none, and
 * neither for one that a guard forbids anything to. `kept` is the one, or null.
 */
export function mixedGroupsIn<R extends Pick<Resource, "kind"> & Parameters<typeof isGuarded>[0]>(
  members: readonly R[],
  plan: Pick<FleetPlan, "mix"> | null,
): Readonly<{ groups: readonly R[]; kept: R | null }> {
  const groups = plan?.mix === undefined ? [] : members.filter(({ kind }) => kind === "group");
  const [only, other] = groups;
  return { groups, kept: only && !other && !isGuarded(only) ? only : null };
}

/** Groups as a decision sees them under a mix: their level is what they have in all, plain and by members. All else stays as it is. */
export function withMembers<R extends Resource>(resources: readonly R[], units: ReadonlyMap<string, MemberUnits>): readonly R[] {
  if (units.size === 0) return resources;
  return resources.map((resource) => {
    const own = units.get(resource.id);
    if (!own) return resource;
    const level = (resource.level + own.there) as Level;
    return { ...resource, level, target: level, state: level > 0 ? ("running" as const) : ("stopped" as const) };
  });
}

/** What was decided, and how many units the mix of each group is to be kept at; null where nothing may be done for it. */
export type MixedDecisions = Readonly<{ decisions: readonly Decision[]; wanted: ReadonlyMap<string, number | null> }>;

export type Mixed = Readonly<{
  /** The groups under a mix, as they were listed. */
  groups: ReadonlyMap<string, Resource>;
  units: ReadonlyMap<string, MemberUnits>;
  /** What a mix wants where no hours say, of groups in which anything may be done. */
  standing: ReadonlyMap<string, number>;
}>;

/**
 * Turns what was decided of groups under a mix, which is about all that they have, into what is asked of their plain level: it
 * goes as members come up, and never rises. Everything else is left as it was decided.
 */
export function mixedDecisions(decisions: readonly Decision[], { groups, units, standing }: Mixed): MixedDecisions {
  const wanted = new Map<string, number | null>();
  if (units.size === 0) return { decisions, wanted };
  const turned = decisions.map((decision) => {
    const [own, group] = [units.get(decision.resourceId), groups.get(decision.resourceId)];
    if (!own || !group) return decision;
    const aim = wantedOf(decision, group.level + own.there) ?? (decision.due === null ? (standing.get(group.id) ?? null) : null);
    wanted.set(group.id, aim);
    if (aim === null || decision.verdict === "braked") return decision;
    const plain = Math.min(group.level, Math.max(0, aim - own.up)) as Level;
    if (plain >= group.target)
      return {
        ...decision,
        verdict: "as due" as const,
        action: null,
        reasons: [...decision.reasons, { code: "mix kept" as const, units: aim }],
      };
    const reasons = [{ code: "members up" as const, up: own.up, wanted: aim }];
    return { ...decision, verdict: "act" as const, reasons, action: { verb: "resize" as const, level: plain, note: null } };
  });
  return { decisions: turned, wanted };
}

/** How many units a mix is to be kept at; null where nothing may be done. */
function wantedOf({ verdict, action, due }: Decision, here: number): number | null {
  switch (verdict) {
    case "act":
      return action?.level ?? due;
    case "as due":
      return due;
    // A person is asked before anything of it goes; what is taken back meanwhile is still replaced.
    case "braked":
      return Math.max(due ?? 0, here);
    case "left":
    case "waiting":
      return null;
  }
}
