import { log } from "@/log";
import { hearSignals, type Pool, type PoolClient, type Signal } from "@/store";
import { type Actor, authorise, ESTATE } from "./actor";
import type { Services } from "./context";

type Listener = (what: Signal) => void;

const listeners = new Set<Listener>();
let isOpening = false;

/** Calls back at every change that any process signals, until the returned function is called. */
export function listen({ pool }: Services, actor: Actor, listener: Listener): () => void {
  authorise(actor, "look", ESTATE);
  listeners.add(listener);
  if (!isOpening) void keepListening(pool);
  return () => listeners.delete(listener);
}

/** One connection listens for the whole process; when it breaks another takes over a second later. */
async function keepListening(pool: Pool): Promise<void> {
  isOpening = true;
  for (;;) {
    // A pool that has ended is not opened again: the process is on its way out.
    if (pool.ended || pool.ending) break;
    let client: PoolClient | null = null;
    try {
      client = await pool.connect();
      await hearSignals(client, (what) => {
        for (const listener of listeners) listener(what);
      });
    } catch (error) {
      log.error({ err: error }, "listening for changes broke and is begun again");
    } finally {
      // Whatever happened, the connection goes: one that listens is never given to a query.
      client?.release(true);
    }
    await new Promise((resolve) => setTimeout(resolve, 1000));
  }
  isOpening = false;
}
