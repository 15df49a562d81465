import { randomUUID } from "node:crypto";
import type { MixGap } from "@/core/mix";
import { isGuarded } from "@/core/plan";
import { type MixMember, type MixOrder, readStamps, recordMixOrder, setGap, whileLeading } from "@/store";
import type { Services } from "../admin";
import { plansInForce, resourcesByFleet } from "../inventory";
import type { Asked, KeepingMixes } from "./keeping";
import { type MixedGroup, mixedGroups } from "./mixed-groups";
import { send } from "./send-orders";

type Open = Readonly<{ gaps: ReadonlyMap<string, readonly MixGap[]>; groups: readonly MixedGroup[] }>;

/** Nothing is missing any more where no mix is kept. */
export async function callOffOthers({ pool }: Services, { lead, now }: KeepingMixes, { gaps, groups }: Open): Promise<void> {
  const kept = new Set(groups.map(({ group }) => group.id));
  const over = [...gaps].flatMap(([groupId, own]) => (kept.has(groupId) ? [] : own));
  if (over.length === 0) return;
  await whileLeading(pool, lead, async (tx) => {
    for (const { id } of over) await setGap(tx, id, { units: 0, at: now, filledBy: null });
  });
}

/** What a mix gave a group whose plan has none any more goes as soon as the group is up by itself. A group without a plan is left alone. */
export async function windDown(
  services: Services,
  keeping: KeepingMixes,
  byGroup: ReadonlyMap<string, readonly MixMember[]>,
): Promise<Asked> {
  const { world, closed, now, roundId, signal: stop } = keeping;
  const accounts = new Set<string>();
  let count = 0;
  const mixed = new Set(mixedGroups(world).map(({ group }) => group.id));
  const byFleet = resourcesByFleet(world);
  for (const plan of plansInForce(world).filter(({ mix }) => !mix)) {
    for (const group of byFleet.get(plan.name) ?? []) {
      const members = byGroup.get(group.id) ?? [];
      const account = group.fields.account ?? "";
      const isUp = group.level > 0 && group.level >= group.target;
      if (mixed.has(group.id) || !isUp || isGuarded(group) || closed.has(account)) continue;
      for (const { resourceId, part, pool, units } of members) {
        const { rules } = await readStamps(services.pool);
        if (stop.aborted || rules !== keeping.rules) return { accounts, count };
        const order: MixOrder = {
          key: randomUUID(),
          roundId,
          fleet: plan.name,
          groupId: group.id,
          account,
          kind: "remove",
          part,
          pool,
          size: group.fields.size ?? "",
          zone: "",
          units,
          keepsDisks: false,
          gaps: [],
          memberId: resourceId,
          why: "its plan has no mix any more, and the group is up by itself",
          recordedAt: now,
        };
        await whileLeading(services.pool, keeping.lead, (tx) => recordMixOrder(tx, order));
        if ((await send(services, keeping, order))?.kind === "accepted") count++;
        accounts.add(account);
      }
    }
  }
  return { accounts, count };
}
