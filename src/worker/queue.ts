import { setTimeout } from "node:timers/promises";
import { Logger, type Runner, run, type TaskList } from "graphile-worker";
import { log } from "@/log";
import { keepQueue, type Services, WORKER } from "@/services/admin";

const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 15_000;
const LIFE_EVERY_MS = 10_000;

const quietLogger = new Logger(() => (level, message) => {
  if (level === "error") log.error({ part: "queue" }, message);
  else if (level === "warning") log.warn({ part: "queue" }, message);
});

/**
 * Does the queue's jobs until `signal` aborts. When the database goes away it begins again by itself, with
 * growing waits; the jobs of a worker that died are taken up again.
 */
export async function queueLoop(services: Services, taskList: TaskList, signal: AbortSignal): Promise<void> {
  for (let waitMs = FIRST_WAIT_MS; !signal.aborted; waitMs = Math.min(LONGEST_WAIT_MS, waitMs * 2)) {
    const began = Date.now();
    await untilItBreaks(services, taskList, signal);
    if (Date.now() - began > LONGEST_WAIT_MS) waitMs = FIRST_WAIT_MS;
    await setTimeout(waitMs, undefined, { signal }).catch(() => {});
  }
}

async function untilItBreaks(services: Services, taskList: TaskList, signal: AbortSignal): Promise<void> {
  let runner: Runner | null = null;
  const workers = new Set<string>();
  const live = () => void keepQueue(services, WORKER, [...workers]).catch(() => {});
  const timer = setInterval(live, LIFE_EVERY_MS);
  const stop = () => void runner?.stop().catch(() => {});
  try {
    runner = await run({ pgPool: services.pool, taskList, concurrency: 2, noHandleSignals: true, logger: quietLogger });
    runner.events.on("job:start", ({ worker }) => {
      workers.add(worker.workerId);
      live();
    });
    signal.addEventListener("abort", stop, { once: true });
    live();
    await runner.promise;
  } catch (error) {
    log.error({ err: error }, "the queue broke and is begun again");
    await runner?.stop().catch(() => {});
  } finally {
    signal.removeEventListener("abort", stop);
    clearInterval(timer);
  }
}
