import type { TaskList } from "graphile-worker";
import { DEMO_PERSON, ROUNDS_WORKER, readMetrics, runRound, type Services } from "@/services";

/** What the queue can be asked to do. */
export const ROUND_JOB = "round";
export const METRICS_JOB = "metrics";

/** The jobs of the queue. Any number of workers share it. */
export function taskList(services: Services): TaskList {
  return {
    // Somebody pressed "run now". When a round is under way already, trying again runs one after it.
    [ROUND_JOB]: async () => {
      const id = await runRound(services, DEMO_PERSON, "act");
      if (id === null) throw new Error("another round is under way");
    },
    [METRICS_JOB]: async (_payload, { logger }) => {
      const { days } = await readMetrics(services, ROUNDS_WORKER);
      logger.info(`read ${days} days of metrics`);
    },
  };
}
