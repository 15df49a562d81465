// Renews leases from a thread of its own: whatever the rest of the process computes, nothing keeps this from it. A process that
// shows no sign of life at all for long is left to lose them. See lease-keeper.ts.
import { parentPort, workerData } from "node:worker_threads";
import pg from "pg";

const { hosts, leaseMs, renewEveryMs, stillMs, beat } = workerData;
const lifeAt = new Float64Array(beat);
/** A connection that nothing was renewed over for so long is closed. */
const IDLE_MS = 30_000;
const leads = new Map();
let client = null;
let host = 0;
let usedAt = Date.now();
let isBusy = false;

parentPort.on("message", ({ lead, isHeld }) => {
  const key = `${lead.name} ${lead.fence}`;
  if (isHeld) leads.set(key, lead);
  else leads.delete(key);
});

setInterval(() => void renewAll(), renewEveryMs);

async function renewAll() {
  if (isBusy) return;
  isBusy = true;
  try {
    if (leads.size === 0) {
      if (client && Date.now() - usedAt > IDLE_MS) await close();
      return;
    }
    if (Date.now() - lifeAt[0] > stillMs) return;
    const connected = client ?? (await open());
    for (const { name, fence } of [...leads.values()])
      await connected.query(
        `update lead set until = clock_timestamp() + $3::double precision * interval '1 ms'
         where name = $1::text and fence = $2::bigint and until >= clock_timestamp()`,
        [name, fence, leaseMs],
      );
    usedAt = Date.now();
  } catch {
    // It is tried again, at the next host there is; one that comes too late changes nothing.
    host = (host + 1) % hosts.length;
    await close();
  } finally {
    isBusy = false;
  }
}

async function open() {
  const made = new pg.Client({
    connectionString: hosts[host],
    connectionTimeoutMillis: renewEveryMs,
    query_timeout: renewEveryMs,
  });
  made.on("error", () => {
    if (client === made) client = null;
  });
  await made.connect();
  client = made;
  return made;
}

async function close() {
  const old = client;
  client = null;
  await old?.end().catch(() => {});
}
