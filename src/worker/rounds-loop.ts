import { setTimeout } from "node:timers/promises";
import { DAY_S } from "@/core/time";
import { log } from "@/log";
import { askForDaily, type Services, WORKER } from "@/services/admin";
import { notifyOfEvents } from "@/services/notify";
import { issueDueReports } from "@/services/report";
import { runDueRound, waitForRounds } from "@/services/rounds";

/** How often the clock is looked at. A demo's clock may go an hour a second; a round still takes its time. */
const LOOK_EVERY_MS = 250;
/** The same where a demo's clock runs fast, and waits for rounds. */
const FAST_LOOK_MS = 40;

/**
 * Runs a round whenever a minute of the clock has passed since the last one, and asks for the daily
 * jobs whenever a day of it is over, until `signal` aborts. A snapshot that cannot be reached is tried again
 * with growing pauses, and said once.
 */
export async function roundsLoop(services: Services, signal: AbortSignal): Promise<void> {
  let failures = 0;
  let dailyOf = -1;
  let pauseMs = LOOK_EVERY_MS;
  while (!signal.aborted) {
    try {
      const { now, rate, waitAt, isDemo } = await services.clock.read();
      pauseMs = isDemo && rate > 1 ? FAST_LOOK_MS : LOOK_EVERY_MS;
      const isRun = (await runDueRound(services, WORKER)) !== null;
      if (isDemo && (isRun || now === waitAt)) await waitForRounds(services, WORKER, await services.clock.read());
      if (isRun) {
        await issueDueReports(services, WORKER);
        await notifyOfEvents(services, WORKER);
      }
      const today = Math.floor(now / DAY_S);
      if (today !== dailyOf) await askForDaily(services, WORKER);
      dailyOf = today;
      failures = 0;
    } catch (error) {
      if (failures++ === 0) log.error({ err: error }, "rounds cannot go on; they are tried again");
    }
    // An abort ends the pause at once; that is no failure.
    await setTimeout(pauseMs * Math.min(40, 2 ** failures), undefined, { signal }).catch(() => {});
  }
}
