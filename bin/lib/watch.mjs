import { say } from "./say.mjs";

/** A part that ends more often than this within the time is not started again. */
const RESTARTS_MAX = 5;
const WITHIN_MS = 5 * 60_000;
const LONGEST_WAIT_MS = 15_000;

/**
 * Keeps a part running: one that ends by itself is started again, with growing waits and up to a limit, and
 * that is said. `giveUp` is called when it will not stay. Returns a function that stops the part for good.
 */
export function keepRunning({ name, first, start, giveUp }) {
  let part = first;
  let isStopping = false;
  let ends = [];
  let waitTimer = null;
  const watch = () => {
    part.ended.then((code) => {
      if (isStopping) return;
      const now = Date.now();
      ends = [...ends.filter((at) => now - at < WITHIN_MS), now];
      if (ends.length > RESTARTS_MAX) {
        say(`the ${name} ended ${ends.length} times within five minutes, the last time with ${code}`);
        giveUp();
        return;
      }
      const waitMs = Math.min(LONGEST_WAIT_MS, 500 * 2 ** (ends.length - 1));
      say(`the ${name} ended with ${code}; it is started again in ${waitMs / 1000} s`);
      waitTimer = setTimeout(() => {
        if (isStopping) return;
        part = start();
        watch();
      }, waitMs);
    });
  };
  watch();
  return async () => {
    isStopping = true;
    if (waitTimer) clearTimeout(waitTimer);
    await part.stop();
  };
}
