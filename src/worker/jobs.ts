import type { Task } from "graphile-worker";
import { z } from "zod";
import {
  closeSpendDays,
  DEMO_PERSON,
  deliver,
  type Job,
  keepHouse,
  pullUsage,
  ROUNDS_WORKER,
  readHistory,
  readMetrics,
  realiseDays,
  runErase,
  runImport,
  runRoundWhenFree,
  runStudy,
  type Services,
  sendMail,
} from "@/services";

const ofFleet = z.object({ fleet: z.string().nullish() });
const numbered = z.object({ id: z.number().int().positive() });

/** The jobs of the queue. Any number of workers share it. A long one ends between two steps when the process stops. */
export function taskList(services: Services, stopping: AbortSignal): Record<Job, Task> {
  return {
    // Somebody pressed "run now".
    round: async (payload) => {
      const { fleet } = ofFleet.parse(payload);
      await runRoundWhenFree(services, DEMO_PERSON, { mode: "act", fleet: fleet ?? null });
    },
    metrics: async (_payload, { logger }) => {
      const { days } = await readMetrics(services, ROUNDS_WORKER, stopping);
      logger.info(`read ${days} days of metrics`);
    },
    spend: async (_payload, { logger }) => {
      const { days } = await closeSpendDays(services, ROUNDS_WORKER, stopping);
      const realised = await realiseDays(services, ROUNDS_WORKER, stopping);
      logger.info(`closed ${days} days, realised ${realised.days}`);
    },
    "metric-history": async (payload) => {
      const { isDone } = await readHistory(services, ROUNDS_WORKER, { id: numbered.parse(payload).id, stopping });
      if (!isDone) throw new Error("the past is asked for later");
    },
    "mix-study": async (payload) => {
      if (!(await runStudy(services, ROUNDS_WORKER, { id: numbered.parse(payload).id, stopping })))
        throw new Error("the study goes on later");
    },
    usage: async (_payload, { logger }) => {
      const { days } = await pullUsage(services, ROUNDS_WORKER, stopping);
      logger.info(`pulled ${days} days of usage`);
    },
    import: async (payload) => {
      const { status } = await runImport(services, ROUNDS_WORKER, numbered.parse(payload).id, stopping);
      // Not through because the process stops: the queue hands it to the next worker.
      if (status === "running") throw new Error("the import goes on later");
    },
    housekeeping: async () => {
      await keepHouse(services, ROUNDS_WORKER);
    },
    mail: async (payload, { job }) => {
      await sendMail(services, ROUNDS_WORKER, { id: numbered.parse(payload).id, isLast: job.attempts >= job.max_attempts });
    },
    webhook: async (payload, { job }) => {
      await deliver(services, ROUNDS_WORKER, { id: numbered.parse(payload).id, isLast: job.attempts >= job.max_attempts });
    },
    "import-erase": async (payload) => runErase(services, ROUNDS_WORKER, numbered.parse(payload).id),
  };
}
