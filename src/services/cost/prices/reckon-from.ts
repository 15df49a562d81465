import { utcDate } from "@/core/time";
import { addJob, reopenDays, signal } from "@/store";
import type { Services } from "../../admin";

/** A change that counts from a UTC day on: days that are reckoned already and that it changes are reckoned anew. */
export async function reckonFrom({ pool, clock }: Services, day: string): Promise<void> {
  const { now } = await clock.read();
  if (day <= utcDate(now)) await reopenDays(pool, day);
  await addJob(pool, "spend");
  await signal(pool, "spend");
}
