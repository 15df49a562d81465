import { log } from "@/log";
import { keepWorkers } from "@/store";
import type { Services } from "./context";
import { authorise, type Person } from "./person";

/** Says that these workers of the queue live, and frees the jobs of those that died. */
export async function keepQueue({ pool }: Services, person: Person, workerIds: readonly string[]): Promise<void> {
  authorise(person, "run rounds");
  const freed = await keepWorkers(pool, workerIds);
  if (freed > 0) log.warn({ workers: freed }, "the jobs of workers that died are taken up again");
}
