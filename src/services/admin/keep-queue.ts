import { log } from "@/log";
import { keepWorkers } from "@/store";
import { type Actor, authorise, ESTATE } from "./actor";
import type { Services } from "./context";

/** Says that these workers of the queue live, and frees the jobs of those that died. */
export async function keepQueue({ pool }: Services, actor: Actor, workerIds: readonly string[]): Promise<void> {
  authorise(actor, "work", ESTATE);
  const freed = await keepWorkers(pool, workerIds);
  if (freed > 0) log.warn({ workers: freed }, "the jobs of workers that died are taken up again");
}
