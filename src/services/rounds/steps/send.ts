import { type Decision, whyWords } from "@/core/rounds";
import type { Action } from "@/store";
import { loadSnapshot, readClouds } from "../../inventory";
import { isWanted } from "../is-wanted";
import { portsFor } from "../ports";
import { decideAgain } from "../round-input";
import { sendActions, type Tried } from "../send-actions";
import { type Round, type RoundState, step } from "./round";

/** Sends whatever is recorded and wanted: this round's, and what an earlier one could not send. */
export const send = step({
  name: "send",
  isRehearsed: false,
  ask: sendAll,
  follow: (_, tried) => ({ state: { tried } }),
});

async function sendAll(round: Round, state: RoundState): Promise<Tried> {
  const { services, lead, now } = round;
  const byResource = new Map(state.decided.decisions.map((decision) => [decision.resourceId, decision]));
  const toSend = state.open.filter(
    ({ resourceId, tryAgainAt }) => byResource.get(resourceId)?.verdict === "act" && tryAgainAt <= now,
  );
  const tried = await sendActions(services.pool, toSend, {
    lead,
    clock: services.clock,
    ...portsFor(services, state.snapshot),
    decidedAt: now,
    whyNot: secondLook(round, state, byResource),
  });
  // What was just sent shows at once, not only at the next round.
  if (tried.sent > 0) await readClouds(services, now, { lead, only: new Set(toSend.map(({ account }) => account)) });
  return tried;
}

type ByResource = ReadonlyMap<string, Decision>;

/** Says why an action is not wanted any more. Only where the rules have moved is anything decided anew, once for all that are sent. */
function secondLook(
  { services }: Round,
  state: RoundState,
  byResource: ByResource,
): (action: Action, rules: string) => Promise<string | null> {
  let known: { rules: string; decisions: Promise<ByResource> } = { rules: state.rules, decisions: Promise.resolve(byResource) };
  const again = async (): Promise<ByResource> => {
    const { decisions } = await decideAgain(services, { ...state, snapshot: await loadSnapshot(services) });
    return new Map(decisions.map((decision) => [decision.resourceId, decision]));
  };
  return async (action, rules) => {
    if (rules !== known.rules) known = { rules, decisions: again() };
    const decision = (await known.decisions).get(action.resourceId);
    if (isWanted(action, decision)) return null;
    return decision ? whyWords(decision.reasons) : "no fleet in force has it any more";
  };
}
