import { unitsOfMember } from "@/core/mix";
import { capabilitiesFor, type FleetPlan, type Resource } from "@/core/plan";
import { type AheadSpan, lifeAhead, mixAhead, mixedGroupsIn, type Override, overridesOn, withMembers } from "@/core/rounds";
import type { Instant } from "@/core/time";
import { type Claim, followingOf } from "./claims";
import type { Snapshot } from "./snapshot";

type Living = Readonly<{ claims: readonly (Claim | null)[]; holds: readonly Override[]; from: Instant; to: Instant }>;

/** What groups under a mix, and their members, will be if plans are kept; by id. Members of no such group stay as they are. */
export function mixesAhead(
  { resources, capabilities }: Pick<Snapshot, "resources" | "capabilities">,
  { claims, holds, from, to }: Living,
): ReadonlyMap<string, readonly AheadSpan[]> {
  const members = new Map<string, Resource[]>();
  for (const one of resources) {
    if (one.kind !== "member" || one.attachedTo === null || one.level === 0) continue;
    members.set(one.attachedTo, [...(members.get(one.attachedTo) ?? []), one]);
  }
  if (members.size === 0) return NONE;
  const onIt = overridesOn(holds);
  const kept = keptGroups(resources, claims);
  const ahead = new Map<string, readonly AheadSpan[]>();
  resources.forEach((group, i) => {
    const claim = claims[i] ?? null;
    const own = members.get(group.id);
    if (!own || !claim || !kept.has(group.id)) return;
    const unitsOf = (member: Resource) => unitsOfMember(member, group, claim.plan.mix);
    const there = own.reduce((sum, one) => sum + unitsOf(one), 0);
    const [seen = group] = withMembers<Resource>([group], new Map([[group.id, { there, up: there }]]));
    const whole = lifeAhead(seen, followingOf(claim, onIt(group.id, claim.plan.name)), {
      from,
      to,
      capabilities: capabilitiesFor(group, capabilities),
    });
    for (const [id, spans] of mixAhead(group, own, { whole, unitsOf })) ahead.set(id, spans);
  });
  return ahead;
}

const NONE: ReadonlyMap<string, readonly AheadSpan[]> = new Map();

/** The groups that a mix is kept for, by id. */
function keptGroups(resources: readonly Resource[], claims: readonly (Claim | null)[]): ReadonlySet<string> {
  const byPlan = new Map<FleetPlan, Resource[]>();
  resources.forEach((resource, i) => {
    const plan = claims[i]?.plan;
    if (!plan?.mix) return;
    byPlan.set(plan, [...(byPlan.get(plan) ?? []), resource]);
  });
  return new Set([...byPlan].flatMap(([plan, members]) => mixedGroupsIn(members, plan).kept?.id ?? []));
}
