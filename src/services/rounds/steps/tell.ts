import { closedWords } from "@/core/rounds";
import { formatInstant } from "@/core/time";
import { log } from "@/log";
import { endRound } from "@/store";
import { countsOf } from "../counts";
import { type Round, type RoundState, step } from "./round";

/** Writes down what the round came to. Webhooks, mails and pages are told from that (`services/notify`). */
export const tell = step({
  name: "tell",
  isRehearsed: true,
  ask: endAndLog,
  follow: () => ({}),
});

async function endAndLog({ services, id, mode, fleet, now, startedMs }: Round, state: RoundState): Promise<void> {
  const { sent, ...tries } = state.tried;
  const { act: wouldSend, ...counts } = countsOf(state.decided.decisions);
  const end = {
    ...counts,
    ...tries,
    sent: state.isRehearsal ? wouldSend : sent + state.kept,
    changed: state.changed,
    unread: Object.fromEntries([...state.closed].map(([account, reason]) => [account, closedWords(reason)])),
    tookMs: Math.round(performance.now() - startedMs),
  };
  await endRound(services.pool, id, end);
  log.info({ round: id, mode, fleet, at: formatInstant(now), ...end }, "a round ended");
}
