import { Logger, run } from "graphile-worker";
import { openServices, ROUNDS_WORKER, resumeImports } from "@/services";
import { taskList } from "./jobs";
import { roundsLoop } from "./rounds-loop";

/** The worker process: rounds by the clock, and the jobs of the queue. Stops cleanly on SIGTERM and SIGINT. */
const services = openServices(process.env);
const stopping = new AbortController();

const quietLogger = new Logger(() => (level, message) => {
  if (level === "error" || level === "warning") console.error(message);
});

await resumeImports(services, ROUNDS_WORKER);

const runner = await run({
  pgPool: services.pool,
  taskList: taskList(services, stopping.signal),
  concurrency: 2,
  noHandleSignals: true,
  logger: quietLogger,
});

for (const name of ["SIGTERM", "SIGINT"] as const) process.on(name, () => stopping.abort());
console.log("ready");
await roundsLoop(services, stopping.signal);
await runner.stop().catch(() => {});
await services.pool.end();
