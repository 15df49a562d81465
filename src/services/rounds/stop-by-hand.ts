import { randomUUID } from "node:crypto";
import { OFF } from "@/core/hours";
import { isGuarded } from "@/core/plan";
import type { Decision } from "@/core/rounds";
import { HOUR_S } from "@/core/time";
import {
  accountList,
  answersOf,
  endRound,
  failRound,
  type Lead,
  openActionList,
  recordActions,
  resourceList,
  type StoredResource,
  saveDecisions,
  signal,
  startRound,
} from "@/store";
import { type Actor, authorise, RefusedError, reasonOf, type Services } from "../admin";
import { readClouds } from "../inventory";
import { sendActions } from "./send-actions";
import { whenFree } from "./when-free";

/** How long a person waits for an answer. */
const ASKED_MS = 10_000;

/**
 * Stops one machine because a person says so: recorded in the journal as a round of its own, then
 * sent. Returns what the provider answered. Refused for what is guarded, and where its plan would
 * start it again at the next round.
 */
export async function stopByHand(
  services: Services,
  actor: Actor,
  { resourceId, why }: { resourceId: string; why: string },
): Promise<{ answer: string }> {
  authorise(actor, "stop", { kind: "resource", id: resourceId, fleet: null });
  if (why.trim() === "") throw new RefusedError("invalid", "A word of why is asked for.", [{ path: "why", message: "say why" }]);
  return whenFree(services.pool, (lead) => stop(services, actor, { lead, resourceId, why: why.trim() }));
}

type Asked = Readonly<{ lead: Lead; resourceId: string; why: string }>;

async function stop(services: Services, actor: Actor, { lead, resourceId, why }: Asked): Promise<{ answer: string }> {
  const { pool, provider } = services;
  const { now } = await services.clock.read();
  const resource = (await resourceList(pool)).find(({ id }) => id === resourceId);
  checkStop(resource, resourceId);
  const id = await startRound(pool, { mode: "act", askedBy: actor.name, at: now });
  try {
    const decision: Decision = {
      resourceId,
      fleet: resource.fleet,
      due: resource.due,
      actual: resource.level,
      verdict: "act",
      reasons: [{ code: "stopped by hand", words: why }],
      chain: [{ rule: "by hand", applies: true, reason: { code: "said by hand", person: actor.name, words: why } }],
      action: { verb: "stop", level: OFF, note: null },
      isUnforeseen: false,
      seen: null,
    };
    await saveDecisions(pool, id, { decisions: [decision], isRehearsal: false });
    const account = resource.fields.account ?? "";
    await recordActions(
      pool,
      [{ key: randomUUID(), resourceId, account, verb: "stop", level: OFF, due: null, isUnforeseen: false }],
      {
        roundId: id,
        at: now,
        deadline: now + HOUR_S,
      },
    );
    const own = (await openActionList(pool)).filter(({ roundId }) => roundId === id);
    const ports = new Map((await accountList(pool)).map((one) => [one.name, provider(one)]));
    const { sent, ...tries } = await sendActions(pool, own, {
      lead,
      clock: services.clock,
      portOf: (name) => ports.get(name),
      decidedAt: now,
      // A person has said so just now: nothing newer speaks.
      whyNot: async () => null,
      signal: AbortSignal.timeout(ASKED_MS),
    });
    await endRound(pool, id, { resources: 1, sent, ...tries, waiting: 1 - sent, braked: 0, changed: 1, unread: {}, tookMs: 0 });
    if (sent > 0) await readClouds(services, now, { lead, only: new Set([account]) });
    return { answer: (await answersOf(pool, id))[0] ?? "another action is under way" };
  } catch (error) {
    await failRound(pool, id, reasonOf(error));
    throw error;
  } finally {
    await signal(pool, "round");
  }
}

function checkStop(resource: StoredResource | undefined, id: string): asserts resource is StoredResource {
  if (resource?.kind !== "machine") throw new RefusedError("not_found", `There is no machine ${id}.`);
  if (isGuarded(resource)) throw new RefusedError("invalid", `${resource.name} is guarded: nothing touches it.`);
  if (resource.level === 0 && resource.state !== "halted") throw new RefusedError("invalid", `${resource.name} is off already.`);
  if ((resource.due ?? 0) > 0) {
    const plan = `The plan of ${resource.fleet} wants ${resource.name} on, and the next round would start it again.`;
    throw new RefusedError("invalid", `${plan} Hold it off on its page instead.`);
  }
}
