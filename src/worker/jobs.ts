import type { Task } from "graphile-worker";
import { DEMO_PERSON, type Job, ROUNDS_WORKER, readMetrics, runRound, type Services } from "@/services";

/** The jobs of the queue. Any number of workers share it. A long one ends between two steps when the process stops. */
export function taskList(services: Services, stopping: AbortSignal): Record<Job, Task> {
  return {
    // Somebody pressed "run now". When a round is under way already, trying again runs one after it.
    round: async () => {
      const id = await runRound(services, DEMO_PERSON, "act");
      if (id === null) throw new Error("another round is under way");
    },
    metrics: async (_payload, { logger }) => {
      const { days } = await readMetrics(services, ROUNDS_WORKER, stopping);
      logger.info(`read ${days} days of metrics`);
    },
  };
}
