import { availableParallelism } from "node:os";
import { Worker } from "node:worker_threads";
import { type Mix, type Stretch, type StretchResult, simulateStretch } from "@/core/mix";

/** Trials of a mix, to be run anywhere. */
export type Task = Readonly<{ mix: Mix; stretch: Stretch }>;

/** What takes longer than this is shared among threads: starting them takes some fifty milliseconds. */
const ALONE_MS = 150;
const PER_THREAD = 16;

/** Runs the tasks, here as long as that is soon done and then on all processors. Results in the order of the tasks. */
export async function runTasks(tasks: readonly Task[]): Promise<readonly StretchResult[]> {
  const results: StretchResult[] = [];
  const began = performance.now();
  for (const { mix, stretch } of tasks) {
    if (performance.now() - began > ALONE_MS) break;
    results.push(simulateStretch(mix, stretch));
  }
  const rest = tasks.slice(results.length);
  return rest.length === 0 ? results : [...results, ...(await inThreads(rest))];
}

/** The trials of one simulation in stretches: small ones first, so that it is soon known how long they take. */
export function stretchesOf(trials: number): readonly Readonly<{ first: number; count: number }>[] {
  const stretches: { first: number; count: number }[] = [];
  const most = Math.max(1, Math.ceil(trials / (availableParallelism() * PER_THREAD)));
  for (let first = 0, size = 10; first < trials; size *= 2) {
    const count = Math.min(size, most, trials - first);
    stretches.push({ first, count });
    first += count;
  }
  return stretches;
}

async function inThreads(tasks: readonly Task[]): Promise<readonly StretchResult[]> {
  const results = new Array<StretchResult>(tasks.length);
  const threads = Array.from({ length: Math.min(availableParallelism(), tasks.length) }, threadOf);
  let next = 0;
  let done = 0;
  const works = async (worker: Worker) => {
    while (next < tasks.length) {
      const at = next++;
      results[at] = await answer(worker, tasks[at] as Task);
      done++;
      if (process.stderr.isTTY) process.stderr.write(done < tasks.length ? `\r${done} of ${tasks.length} ` : "\r\x1b[K");
    }
  };
  try {
    await Promise.all(threads.map(works));
  } finally {
    await Promise.all(threads.map((worker) => worker.terminate()));
  }
  return results;
}

function threadOf(): Worker {
  return new Worker(new URL("./mix-thread.mjs", import.meta.url));
}

/** What a thread of `mix-thread.ts` answers to a task; an error where it breaks. */
export function answer(worker: Worker, task: Task): Promise<StretchResult> {
  return new Promise((resolve, reject) => {
    worker.once("error", reject);
    worker.once("message", (result: StretchResult) => {
      worker.off("error", reject);
      resolve(result);
    });
    worker.postMessage(task);
  });
}
