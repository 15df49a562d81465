import { randomUUID } from "node:crypto";
import { type MixGap, stepReasonWords } from "@/core/mix";
import { type FleetPlan, isGuarded, type Resource } from "@/core/plan";
import { type MixMember, type MixOrder, recordMixOrder, setGap, whileLeading } from "@/store";
import type { Services } from "../admin";
import { plansInForce, resourcesByFleet } from "../inventory";
import { type MixedGroup, mixedGroups } from "./mixed-groups";
import { type Asked, isBusy, type MixReconciling, mayGoOn } from "./reconciling";
import { send } from "./send-orders";

type Open = Readonly<{ gaps: ReadonlyMap<string, readonly MixGap[]>; groups: readonly MixedGroup[] }>;

/** Nothing is missing any more where no mix is kept. */
export async function callOffOthers({ pool }: Services, { lead, now }: MixReconciling, { gaps, groups }: Open): Promise<void> {
  const kept = new Set(groups.map(({ group }) => group.id));
  const over = [...gaps].flatMap(([groupId, own]) => (kept.has(groupId) ? [] : own));
  if (over.length === 0) return;
  await whileLeading(pool, lead, async (tx) => {
    for (const { id } of over) await setGap(tx, id, { units: 0, at: now, filledBy: null });
  });
}

/** What a mix gave a group whose plan has none any more goes as soon as the group is as it is due by itself. A group without a plan is left alone. */
export async function windDown(
  services: Services,
  keeping: MixReconciling,
  byGroup: ReadonlyMap<string, readonly MixMember[]>,
): Promise<Asked> {
  const accounts = new Set<string>();
  let count = 0;
  for (const { group, plan, member } of overdue(keeping, byGroup)) {
    if (!(await mayGoOn(services, keeping))) break;
    const account = group.fields.account ?? "";
    const order: MixOrder = {
      key: randomUUID(),
      roundId: keeping.roundId,
      fleet: plan.name,
      groupId: group.id,
      account,
      kind: "remove",
      part: member.part,
      pool: member.pool,
      size: group.fields.size ?? "",
      zone: "",
      units: member.units,
      keepsDisks: false,
      gaps: [],
      memberId: member.resourceId,
      cause: "no mix any more",
      why: stepReasonWords({ code: "no mix any more" }),
      recordedAt: keeping.now,
    };
    await whileLeading(services.pool, keeping.lead, (tx) => recordMixOrder(tx, order));
    if ((await send(services, keeping, order))?.kind === "accepted") count++;
    accounts.add(account);
  }
  return { accounts, count };
}

type Overdue = Readonly<{ group: Resource; plan: FleetPlan; member: MixMember }>;

/** The members that no mix keeps, of groups in force; those that are at work stay until they are not. */
function overdue({ snapshot, closed, asDue }: MixReconciling, byGroup: ReadonlyMap<string, readonly MixMember[]>): Overdue[] {
  const mixed = new Set(mixedGroups(snapshot).map(({ group }) => group.id));
  const busy = new Set(snapshot.resources.filter((one) => one.kind === "member" && isBusy(one)).map(({ id }) => id));
  const byFleet = resourcesByFleet(snapshot);
  return plansInForce(snapshot).flatMap((plan) =>
    (byFleet.get(plan.name) ?? [])
      // What it is on its way to counts as due, and is not there yet.
      .filter((group) => byGroup.has(group.id) && asDue.has(group.id) && group.level >= group.target && !mixed.has(group.id))
      .filter((group) => !isGuarded(group) && !closed.has(group.fields.account ?? ""))
      .flatMap((group) =>
        (byGroup.get(group.id) ?? [])
          .filter(({ resourceId }) => !busy.has(resourceId))
          .map((member) => ({ group, plan, member })),
      ),
  );
}
