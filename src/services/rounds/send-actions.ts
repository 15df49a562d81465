import { HOUR_S, type Instant, MINUTE_S } from "@/core/time";
import type { ProviderPort } from "@/provider";
import { type Action, type Db, saveActionState } from "@/store";

const AT_ONCE = 8;
const WAIT_MAX_S = 15 * MINUTE_S;
/** How long an accepted action is given to show in a listing before it is sent again with the same key. */
const SEEN_WITHIN_S = 5 * MINUTE_S;
export const REFUSED_FOR_S = HOUR_S;

/** Sends recorded actions, a few at once, and writes each answer down as it comes. Returns how many were accepted. */
export async function sendActions(
  db: Db,
  actions: readonly Action[],
  { portOf, now }: { portOf: (account: string) => ProviderPort | undefined; now: Instant },
): Promise<number> {
  const queue = [...actions];
  let accepted = 0;
  async function lane(): Promise<void> {
    for (let action = queue.shift(); action; action = queue.shift()) {
      if (await sendOne(db, action, { port: portOf(action.account), now })) accepted++;
    }
  }
  await Promise.all(Array.from({ length: AT_ONCE }, lane));
  return accepted;
}

async function sendOne(
  db: Db,
  action: Action,
  { port, now }: { port: ProviderPort | undefined; now: Instant },
): Promise<boolean> {
  const attempts = action.attempts + 1;
  const answer = port ? await port.act(action) : ({ kind: "refused", why: "its account is no longer set up" } as const);
  const growing = Math.min(WAIT_MAX_S, MINUTE_S * 2 ** action.attempts);
  switch (answer.kind) {
    case "accepted":
      await saveActionState(db, action, {
        status: "sent",
        lastAnswer: "accepted",
        attempts,
        tryAgainAt: now + SEEN_WITHIN_S,
        endedAt: null,
      });
      return true;
    case "retry":
      await saveActionState(db, action, {
        status: "sent",
        lastAnswer: answer.why,
        attempts,
        tryAgainAt: now + growing,
        endedAt: null,
      });
      return false;
    case "refused":
      await saveActionState(db, action, {
        status: "refused",
        lastAnswer: answer.why,
        attempts,
        tryAgainAt: now + REFUSED_FOR_S,
        endedAt: now,
      });
      return false;
  }
}
