import { isTooOld } from "@/core/rounds";
import { HOUR_S, type Instant, MINUTE_S } from "@/core/time";
import type { ActAnswer, Clock, ProviderParts } from "@/provider";
import { type Action, type Lead, markSending, type Pool, saveActionState, saveLastDue, withdrawAction } from "@/store";

const AT_ONCE = 8;
const WAIT_MAX_S = 15 * MINUTE_S;
/** How long an accepted action is given to show in a listing before it is sent again with the same key. */
const SEEN_WITHIN_S = 5 * MINUTE_S;
export const REFUSED_FOR_S = HOUR_S;
/** From being marked to being sent takes next to no time, unless the process was stopped in between. */
const AT_ONCE_MS = 2_000;

export type Sending = Readonly<{
  lead: Lead;
  clock: Clock;
  portOf: (account: string) => ProviderParts | undefined;
  /** When it was decided. */
  decidedAt: Instant;
  /** Why an action is not wanted any more, by the rules as of a counter; null where it is. */
  whyNot: (action: Action, rules: string) => Promise<string | null>;
  /** Nothing more is sent once it aborts; what is left goes with the next round. */
  signal: AbortSignal;
}>;

/** What came of sending: how many were accepted, how many tried, and how many of those not for the first time. */
export type Tried = Readonly<{ sent: number; tried: number; again: number }>;

export const NOTHING_TRIED: Tried = { sent: 0, tried: 0, again: 0 };

/**
 * Sends recorded actions, each account apart and a few at once, and writes each answer down as it comes.
 * Before each, the lead, the age of the decision and the rules are looked at again. Returns how many were
 * tried, how many of them not for the first time, and how many were accepted. Throws a LostLeadError as soon as another leads.
 */
export async function sendActions(pool: Pool, actions: readonly Action[], sending: Sending): Promise<Tried> {
  const byAccount = new Map<string, Action[]>();
  for (const action of actions) byAccount.set(action.account, [...(byAccount.get(action.account) ?? []), action]);
  let sent = 0;
  let tried = 0;
  let again = 0;
  const lane = async (queue: Action[]): Promise<void> => {
    for (let action = queue.shift(); action; action = queue.shift()) {
      if (sending.signal.aborted) return;
      const outcome = await sendOne(pool, action, sending);
      if (outcome === "too old") return;
      if (outcome === "withdrawn") continue;
      tried++;
      if (action.attempts > 0) again++;
      if (outcome === "accepted") sent++;
    }
  };
  const lanes = [...byAccount.values()].flatMap((queue) => Array.from({ length: AT_ONCE }, () => lane(queue)));
  const ends = await Promise.allSettled(lanes);
  for (const end of ends) if (end.status === "rejected") throw end.reason;
  return { sent, tried, again };
}

async function sendOne(
  pool: Pool,
  action: Action,
  sending: Sending,
): Promise<"accepted" | "not accepted" | "withdrawn" | "too old"> {
  const { lead, clock, portOf, decidedAt, whyNot } = sending;
  for (;;) {
    const reading = await clock.read();
    const { now } = reading;
    if (isTooOld(decidedAt, reading)) return "too old";
    const { isOpen, rules } = await markSending(pool, lead, { id: action.id, now });
    const markedMs = Date.now();
    if (!isOpen) return "withdrawn";
    const reason = await whyNot(action, rules);
    if (reason !== null) {
      await withdrawAction(pool, action, { lastAnswer: `not sent: ${reason}`, at: now });
      return "withdrawn";
    }
    // The process may have slept since: whatever it knew is looked at again.
    if (Date.now() - markedMs > AT_ONCE_MS) continue;
    const port = portOf(action.account);
    const answer: ActAnswer = port ? await port.power.act(action) : { kind: "refused", why: "its account is no longer set up" };
    await noteAnswer(pool, action, answer, now);
    return answer.kind === "accepted" ? "accepted" : "not accepted";
  }
}

async function noteAnswer(pool: Pool, action: Action, answer: ActAnswer, now: Instant): Promise<void> {
  switch (answer.kind) {
    case "accepted":
      return saveActionState(pool, action, {
        status: "sent",
        lastAnswer: "accepted",
        isAccepted: true,
        tryAgainAt: now + SEEN_WITHIN_S,
        endedAt: null,
      });
    case "retry": {
      const growing = Math.min(WAIT_MAX_S, MINUTE_S * 2 ** action.attempts);
      return saveActionState(pool, action, { status: "sent", lastAnswer: answer.why, tryAgainAt: now + growing, endedAt: null });
    }
    case "refused":
      await saveActionState(pool, action, {
        status: "refused",
        lastAnswer: answer.why,
        tryAgainAt: now + REFUSED_FOR_S,
        endedAt: now,
      });
      // On edges a clear refusal is an answer to this edge; the next one asks again.
      if (action.due !== null) await saveLastDue(pool, new Map([[action.resourceId, action.due]]));
  }
}
