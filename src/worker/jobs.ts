import type { Task } from "graphile-worker";
import { z } from "zod";
import { actorNamed, DEMO_ACTOR, keepHouse, type Services, WORKER } from "@/services/admin";
import { closeSpendDays, foretellToday, learnLikelyUse, measureSavings } from "@/services/cost";
import { readHistory, readMetrics } from "@/services/metrics";
import { runStudy } from "@/services/mix";
import { deliver } from "@/services/notify";
import { sendMail } from "@/services/report";
import { type Job, runRoundWhenFree } from "@/services/rounds";
import { pullUsage, runErase, runImport } from "@/services/usage";

/** Jobs of a version before have nobody's name in them. */
const roundSchema = z.object({ by: z.string().default(DEMO_ACTOR.name), fleet: z.string().nullable().default(null) });
const numbered = z.object({ id: z.number().int().positive() });

/** Jobs whose end is up to somebody outside: they have a queue of their own, so that nobody there keeps the others waiting. */
const LEAVES_THE_HOUSE: readonly Job[] = ["mail", "webhook"];

/** The jobs of the queue in two lots: what is done here, and what leaves the house. */
export function taskLists(services: Services, stopping: AbortSignal): readonly Partial<Record<Job, Task>>[] {
  const all = Object.entries(taskList(services, stopping)) as [Job, Task][];
  const leaves = ([job]: [Job, Task]) => LEAVES_THE_HOUSE.includes(job);
  return [all.filter((one) => !leaves(one)), all.filter(leaves)].map((lot) => Object.fromEntries(lot));
}

/** The jobs of the queue. Any number of workers share it. A long one ends between two steps when the process stops. */
function taskList(services: Services, stopping: AbortSignal): Record<Job, Task> {
  return {
    // Somebody pressed "run now".
    round: async (payload) => {
      const { by, fleet } = roundSchema.parse(payload);
      await runRoundWhenFree(services, actorNamed(by), { mode: "act", fleet });
    },
    metrics: async (_payload, { logger }) => {
      const { days } = await readMetrics(services, WORKER, stopping);
      logger.info(`read ${days} days of metrics`);
    },
    likely: async (_payload, { logger }) => {
      const { fleets } = await learnLikelyUse(services, WORKER, stopping);
      const foretold = await foretellToday(services, WORKER);
      logger.info(`learned what is likely of ${fleets} fleets, foretold the day of ${foretold.fleets}`);
    },
    spend: async (_payload, { logger }) => {
      const { days } = await closeSpendDays(services, WORKER, stopping);
      const realised = await measureSavings(services, WORKER, stopping);
      logger.info(`closed ${days} days, realised ${realised.days}`);
    },
    "metric-history": async (payload) => {
      const { isDone } = await readHistory(services, WORKER, { id: numbered.parse(payload).id, stopping });
      if (!isDone) throw new Error("the past is asked for later");
    },
    "mix-study": async (payload) => {
      if (!(await runStudy(services, WORKER, { id: numbered.parse(payload).id, stopping })))
        throw new Error("the study goes on later");
    },
    usage: async (_payload, { logger }) => {
      const { days } = await pullUsage(services, WORKER, stopping);
      logger.info(`pulled ${days} days of usage`);
    },
    import: async (payload) => {
      const { status } = await runImport(services, WORKER, numbered.parse(payload).id, stopping);
      // Not through because the process stops: the queue hands it to the next worker.
      if (status === "running") throw new Error("the import goes on later");
    },
    housekeeping: async () => {
      await keepHouse(services, WORKER);
    },
    mail: async (payload, { job }) => {
      await sendMail(services, WORKER, { id: numbered.parse(payload).id, isLast: job.attempts >= job.max_attempts });
    },
    webhook: async (payload, { job }) => {
      await deliver(services, WORKER, { id: numbered.parse(payload).id, isLast: job.attempts >= job.max_attempts });
    },
    "import-erase": async (payload) => runErase(services, WORKER, numbered.parse(payload).id),
  };
}
