import { join } from "node:path";
import { Worker } from "node:worker_threads";
import type { Lead } from "./lead";
import { type Pool, poolHosts } from "./pool";

/** How long a lead is held without a sign of life. A frozen holder is replaced after it. */
export const LEASE_MS = 10_000;
const RENEW_EVERY_MS = 2_500;
/** The thread renews for a process whose own event loop stands still; one that stands for so long is no leader. */
const STILL_MS = 300_000;
const BEAT_EVERY_MS = 1_000;

/** Has leases renewed while they are held. */
export type LeaseKeeper = Readonly<{ hold: (lead: Lead) => void; release: (lead: Lead) => void }>;

const keepers = new WeakMap<Pool, LeaseKeeper>();

/** The keeper of a pool's leases: a thread with a connection of its own, which nothing that this one computes can block. */
export function leaseKeeper(pool: Pool): LeaseKeeper {
  const known = keepers.get(pool);
  if (known) return known;
  const beat = new SharedArrayBuffer(Float64Array.BYTES_PER_ELEMENT);
  const lifeAt = new Float64Array(beat);
  const worker = new Worker(join(process.cwd(), "src/store/lease-thread.mjs"), {
    workerData: { hosts: poolHosts(pool), leaseMs: LEASE_MS, renewEveryMs: RENEW_EVERY_MS, stillMs: STILL_MS, beat },
  });
  // Without it leases end in their time, and rounds with them; the next one has a new keeper.
  const forget = () => keepers.delete(pool);
  worker.once("error", forget);
  worker.once("exit", forget);
  worker.unref();
  let beating: NodeJS.Timeout | undefined;
  const held = new Set<Lead>();
  const live = () => {
    lifeAt[0] = Date.now();
  };
  const keeper: LeaseKeeper = {
    hold(lead) {
      live();
      held.add(lead);
      beating ??= setInterval(live, BEAT_EVERY_MS).unref();
      worker.postMessage({ lead, isHeld: true });
    },
    release(lead) {
      held.delete(lead);
      if (held.size === 0) {
        clearInterval(beating);
        beating = undefined;
      }
      worker.postMessage({ lead, isHeld: false });
    },
  };
  keepers.set(pool, keeper);
  return keeper;
}
