import { setTimeout } from "node:timers/promises";
import { log } from "@/log";
import { openServices, WORKER } from "@/services/admin";
import { resumeImports } from "@/services/usage";
import { taskLists } from "./jobs";
import { queueLoop } from "./queue";
import { roundsLoop } from "./rounds-loop";

/** The worker process: rounds by the clock, and the jobs of the queue. Stops cleanly on SIGTERM and SIGINT. */
const services = openServices(process.env);
const stopping = new AbortController();
for (const name of ["SIGTERM", "SIGINT"] as const) process.on(name, () => stopping.abort());

// The queue's package leaves a promise behind when the database goes while a job fails. The loops begin again by
// themselves, so the process stays; what it was stands in the log.
process.on("unhandledRejection", (error) => log.error({ err: error }, "left behind"));

/** What was under way when a worker ended goes on; a database that does not answer yet is waited for. */
async function resume(): Promise<void> {
  while (!stopping.signal.aborted) {
    try {
      await resumeImports(services, WORKER);
      return;
    } catch (error) {
      log.error({ err: error }, "the worker cannot begin yet; it tries again");
      await setTimeout(2000, undefined, { signal: stopping.signal }).catch(() => {});
    }
  }
}

await resume();
console.log("ready");
await Promise.all([
  ...taskLists(services, stopping.signal).map((lot) => queueLoop(services, lot, stopping.signal)),
  roundsLoop(services, stopping.signal),
]);
await services.pool.end();
