import { isTooOld } from "@/core/rounds";
import type { MemberAnswer, Members } from "@/provider";
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
import type { MixReconciling } from "./reconciling";

/** What came of what was recorded before: how often it was accepted, and the groups of which it is still not known. */
export type Resent = Readonly<{ count: number; unsure: ReadonlySet<string> }>;

/**
 * Asks again, by the same key, for what was recorded and never answered: whoever was asked may have done it. A machine that
 * was ordered is known by nothing else; what was to be done to one that is listed is seen in the listing, and not repeated late.
 */
export async function resend(services: Services, keeping: MixReconciling): Promise<Resent> {
  const { pool, clock } = services;
  const { lead, closed, signal } = keeping;
  let count = 0;
  const unsure = new Set<string>();
  for (const order of await openMixOrders(pool)) {
    if (order.kind !== "order" && isTooOld(order.recordedAt, await clock.read())) {
      const answer = { status: "failed", answer: "not answered in time", memberId: null } as const;
      await whileLeading(pool, lead, (tx) => answerMixOrder(tx, order.key, answer));
      continue;
    }
    const answer = closed.has(order.account) || signal.aborted ? null : await send(services, keeping, order);
    if (answer === null) unsure.add(order.groupId);
    else if (answer.kind === "accepted") count++;
  }
  return { count, unsure };
}

type Answered = Exclude<MemberAnswer, Readonly<{ kind: "retry" }>>;

/** Sends a recorded order and notes its answer. Null where none came that says what was done: then it stays open. */
export async function send(services: Services, { lead, portOf, now }: MixReconciling, order: MixOrder): Promise<Answered | null> {
  const { pool } = services;
  const parts = portOf(order.account);
  const answer: MemberAnswer = !parts
    ? { kind: "refused", why: "its account is no longer set up" }
    : !parts.members
      ? { kind: "refused", why: "its provider has no single machines for groups" }
      : order.kind === "order"
        ? await parts.members.orderMember({ ...order, purchase: order.part === "spot" ? "spot" : "firm" })
        : await moved(parts.members, order);
  await whileLeading(pool, lead, async (tx) => {
    if (answer.kind !== "accepted") {
      const status = answer.kind === "retry" ? null : "refused";
      return answerMixOrder(tx, order.key, { status, memberId: null, answer: answer.why });
    }
    const { memberId: id } = answer;
    await answerMixOrder(tx, order.key, { status: "accepted", memberId: id, answer: "accepted" });
    if (order.kind === "remove") await endMixMember(tx, id, { at: now, cause: order.cause });
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
  return answer.kind === "retry" ? null : answer;
}

async function moved(members: Members, { kind, memberId, key }: MixOrder): Promise<MemberAnswer> {
  const id = memberId ?? "";
  const answer = await members.moveMember({ memberId: id, move: kind === "remove" ? "remove" : "start", key });
  return answer.kind === "accepted" ? { kind: "accepted", memberId: id } : answer;
}
