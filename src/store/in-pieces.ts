import { setImmediate as turn } from "node:timers/promises";
import type { Pieces } from "@/core/pieces";

/** Nothing else waits longer than this for long work, as far as its pieces are shorter. */
const HELD_MS = 50;

/** Does long work piece by piece: whatever else the process has to do comes in between. */
export async function inPieces<T>(work: Pieces<T>): Promise<T> {
  for (let since = performance.now(); ; ) {
    const { done, value } = work.next();
    if (done) return value;
    if (performance.now() - since < HELD_MS) continue;
    await turn();
    since = performance.now();
  }
}
