import fc from "fast-check";
import type { Reader } from "./readers";

/** More of a processor's time than this for one input is a hang. */
export const HANG_MS = 1_000;

/**
 * Reads so many inputs with a reader: each gets an answer or a refusal that was thought of, without a hang. Throws with
 * the smallest input that was found otherwise. Returns the longest that one took, in milliseconds of a processor.
 */
export async function holdsAgainst({ input, read, isSaid }: Reader, runs: number): Promise<number> {
  let longestMs = 0;
  await fc.assert(
    fc.asyncProperty(input, async (given) => {
      const once = async () => {
        const [before, from] = [process.cpuUsage(), performance.now()];
        try {
          await read(given);
        } catch (error) {
          if (!isSaid(error)) throw error;
        }
        const { user, system } = process.cpuUsage(before);
        return Math.min((user + system) / 1_000, performance.now() - from);
      };
      // What was left over from the one before may be cleared away meanwhile: what is slow is slow twice.
      let ms = await once();
      if (ms > HANG_MS) ms = await once();
      longestMs = Math.max(longestMs, ms);
      if (ms > HANG_MS) throw new Error(`it took ${Math.round(ms)} ms`);
    }),
    // Looking for the smallest input that hangs must not take for ever.
    { numRuns: runs, interruptAfterTimeLimit: 300_000, markInterruptAsFailure: true },
  );
  return longestMs;
}
