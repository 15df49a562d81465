import { monitorEventLoopDelay } from "node:perf_hooks";
import { log } from "@/log";

const STILL_MS = 2_000;
const ROUND_MS = 60_000;
const RESOLUTION_MS = 20;
const NANO = 1e-6;

/** Watches a round's steps: which of them kept the process from everything else, and what a long round was long with. */
export function watchSteps(round: number): Readonly<{ ended: (step: string) => void; close: () => void }> {
  const delays = monitorEventLoopDelay({ resolution: RESOLUTION_MS });
  delays.enable();
  const began = performance.now();
  let last = began;
  const took: Record<string, number> = {};
  return {
    ended(step) {
      const now = performance.now();
      took[step] = Math.round(now - last);
      last = now;
      const stillMs = Math.round(delays.max * NANO);
      if (delays.count > 0 && stillMs > STILL_MS)
        log.warn({ round, step, stillMs }, "a step of a round let nothing else be done meanwhile");
      delays.reset();
    },
    close() {
      delays.disable();
      const ms = Math.round(performance.now() - began);
      if (ms > ROUND_MS) log.warn({ round, ms, took }, "a round took longer than the minute that it has");
    },
  };
}
