import type { MemberAnswer, ProviderPort } from "@/provider";
import {
  addMixMember,
  answerMixOrder,
  endMixMember,
  type MixOrder,
  openGaps,
  openMixOrders,
  setGap,
  whileLeading,
} from "@/store";
import type { Services } from "../admin";
import type { KeepingMixes } from "./keeping";

/** Asks again, by the same key, for what was recorded and never answered. Returns how often it was accepted. */
export async function resend(services: Services, keeping: KeepingMixes): Promise<number> {
  let count = 0;
  for (const order of await openMixOrders(services.pool)) {
    if (keeping.closed.has(order.account) || keeping.signal.aborted) continue;
    if ((await send(services, keeping, order))?.kind === "accepted") count++;
  }
  return count;
}

/** Sends a recorded order and notes its answer. Returns the answer; null where it stays open. */
export async function send(
  services: Services,
  { lead, portOf, now }: KeepingMixes,
  order: MixOrder,
): Promise<MemberAnswer | null> {
  const { pool } = services;
  const port = portOf(order.account);
  const answer = port
    ? order.kind === "order"
      ? await port.orderMember({ ...order, purchase: order.part === "spot" ? "spot" : "firm" })
      : await moved(port, order)
    : ({ kind: "refused", why: "its account is no longer set up" } as const);
  await whileLeading(pool, lead, async (tx) => {
    const memberId = answer.kind === "accepted" ? answer.memberId : null;
    const status = answer.kind === "accepted" ? "accepted" : answer.kind === "full" ? "refused" : "failed";
    await answerMixOrder(tx, order.key, { status, memberId, answer: answer.kind === "accepted" ? "accepted" : answer.why });
    if (answer.kind !== "accepted") return;
    const { memberId: id } = answer;
    if (order.kind === "remove") await endMixMember(tx, id, { at: now, why: order.why });
    else if (order.kind === "order")
      await addMixMember(tx, order.fleet, { ...order, resourceId: id, orderedAt: order.recordedAt });
    let left = order.units;
    const open = (await openGaps(tx)).get(order.groupId) ?? [];
    for (const gap of open.filter(({ id: gapId }) => order.gaps.includes(gapId))) {
      const taken = Math.min(left, gap.units);
      await setGap(tx, gap.id, { units: gap.units - taken, at: now, filledBy: id });
      left -= taken;
    }
  });
  return answer;
}

async function moved(port: ProviderPort, { kind, memberId, key }: MixOrder): Promise<MemberAnswer> {
  const id = memberId ?? "";
  const answer = await port.moveMember({ memberId: id, move: kind === "remove" ? "remove" : "start", key });
  return answer.kind === "accepted" ? { kind: "accepted", memberId: id } : answer;
}
