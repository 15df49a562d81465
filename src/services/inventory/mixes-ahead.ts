import { poolPlace, unitsOfMember } from "@/core/mix";
import { capabilitiesFor, type FleetPlan, type Resource } from "@/core/plan";
import { type AheadSpan, lifeAhead, mixAhead, mixedGroupsIn, type Override, overridesOn, withMembers } from "@/core/rounds";
import type { Instant } from "@/core/time";
import { type Claim, followingOf } from "./claims";
import type { Snapshot } from "./snapshot";

type Living = Readonly<{ claims: readonly (Claim | null)[]; holds: readonly Override[]; from: Instant; to: Instant }>;

/**
 * What one will be, and for a group as what it is priced: what its members do not come to is spot to come, as soon as those at full
 * price are there.
 */
export type MixedAhead = Readonly<{ spans: readonly AheadSpan[]; fields: Resource["fields"] }>;

/** What groups under a mix, and their members, will be if plans are kept; by id. Members of no such group stay as they are. */
export function mixesAhead(
  { resources, capabilities }: Pick<Snapshot, "resources" | "capabilities">,
  { claims, holds, from, to }: Living,
): ReadonlyMap<string, MixedAhead> {
  const members = new Map<string, Resource[]>();
  for (const one of resources) {
    if (one.kind !== "member" || one.attachedTo === null || one.level === 0) continue;
    members.set(one.attachedTo, [...(members.get(one.attachedTo) ?? []), one]);
  }
  if (members.size === 0) return NONE;
  const onIt = overridesOn(holds);
  const kept = keptGroups(resources, claims);
  const byId = new Map(resources.map((one) => [one.id, one]));
  const ahead = new Map<string, MixedAhead>();
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
    for (const [id, spans] of mixAhead(group, own, { whole, unitsOf })) {
      const fields = id === group.id ? fieldsToCome(group, own, claim.plan) : (byId.get(id) ?? group).fields;
      ahead.set(id, { spans, fields });
    }
  });
  return ahead;
}

const NONE: ReadonlyMap<string, MixedAhead> = new Map();

/** Of its own size from the first such pool, at spot price; where firm units lack, or it has no such pool, as the group is. */
function fieldsToCome(group: Resource, members: readonly Resource[], { mix }: FleetPlan): Resource["fields"] {
  const firm = members.filter(({ fields }) => fields.purchase === "firm").length;
  const places = (mix?.pools ?? []).flatMap(({ name }) => poolPlace(name) ?? []);
  const own = places.find(({ size }) => size === group.fields.size);
  return own && firm >= (mix?.firm ?? 0) ? { ...group.fields, ...own, purchase: "spot" } : group.fields;
}

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
