import type { Mix } from "@/core/mix";
import type { FleetPlan, Resource } from "@/core/plan";
import { type MemberUnits, mixedGroupsIn } from "@/core/rounds";
import { type Instant, MINUTE_S } from "@/core/time";
import type { MixMember } from "@/store";
import { plansInForce, resourcesByFleet, type Snapshot } from "../inventory";

/** A group that a mix in force is kept for. */
export type MixedGroup = Readonly<{ group: Resource; plan: FleetPlan; mix: Mix }>;

/** The groups that mixes in force are kept for. A mix is one of machines: where a fleet has several groups it is kept for none. */
export function mixedGroups(snapshot: Snapshot): MixedGroup[] {
  const plans = plansInForce(snapshot).filter(({ mix }) => mix);
  if (plans.length === 0) return [];
  const byFleet = resourcesByFleet(snapshot);
  return plans.flatMap((plan) => {
    const { kept: group } = mixedGroupsIn(byFleet.get(plan.name) ?? [], plan);
    return plan.mix && group ? [{ group, plan, mix: plan.mix }] : [];
  });
}

/** What the mixes of groups have given them, as it was last listed. */
export function memberUnits(snapshot: Snapshot, members: readonly MixMember[], now: Instant): Map<string, MemberUnits> {
  const groups = mixedGroups(snapshot);
  const units = new Map<string, MemberUnits>(groups.map(({ group }) => [group.id, { there: 0, up: 0 }]));
  if (groups.length === 0) return units;
  const setupS = new Map(groups.map(({ group, mix }) => [group.id, (mix.setupMinutes ?? 0) * MINUTE_S]));
  const byId = new Map(snapshot.resources.map((one) => [one.id, one]));
  for (const { groupId, resourceId, units: own } of members) {
    const before = units.get(groupId);
    const resource = byId.get(resourceId);
    if (!before || resource?.state === "gone" || resource?.state === "stopped") continue;
    const isUp = resource?.state === "running" && resource.since + (setupS.get(groupId) ?? 0) <= now;
    units.set(groupId, { there: before.there + own, up: before.up + (isUp ? own : 0) });
  }
  return units;
}
