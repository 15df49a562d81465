import type { Task } from "graphile-worker";
import { DEMO_PERSON, type Job, ROUNDS_WORKER, readMetrics, runRoundWhenFree, type Services } from "@/services";

/** The jobs of the queue. Any number of workers share it. A long one ends between two steps when the process stops. */
export function taskList(services: Services, stopping: AbortSignal): Record<Job, Task> {
  return {
    // Somebody pressed "run now".
    round: async () => {
      await runRoundWhenFree(services, DEMO_PERSON, "act");
    },
    metrics: async (_payload, { logger }) => {
      const { days } = await readMetrics(services, ROUNDS_WORKER, stopping);
      logger.info(`read ${days} days of metrics`);
    },
  };
}
