import { isRoundDue, ROUNDS_WORKER, runRound, type Services } from "@/services";

/** How often the clock is looked at. A demo's clock may go an hour a second; a round still takes its time. */
const LOOK_EVERY_MS = 250;

/**
 * Runs a round whenever a minute of the clock has passed since the last one, until `signal` aborts.
 * A world that cannot be reached is tried again with growing pauses, and said once.
 */
export async function roundsLoop(services: Services, signal: AbortSignal): Promise<void> {
  let failures = 0;
  while (!signal.aborted) {
    try {
      if (await isRoundDue(services, ROUNDS_WORKER)) await runRound(services, ROUNDS_WORKER, "act");
      failures = 0;
    } catch (error) {
      if (failures++ === 0) console.error(`rounds: ${error instanceof Error ? error.message : String(error)}`);
    }
    await pause(LOOK_EVERY_MS * Math.min(40, 2 ** failures), signal);
  }
}

function pause(ms: number, signal: AbortSignal): Promise<void> {
  if (signal.aborted) return Promise.resolve();
  return new Promise((resolve) => {
    const timer = setTimeout(resolve, ms);
    signal.addEventListener(
      "abort",
      () => {
        clearTimeout(timer);
        resolve();
      },
      { once: true },
    );
  });
}
