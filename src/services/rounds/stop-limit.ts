import { z } from "zod";
import { type Db, maybeSetting, saveSetting, signal } from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";

const STOP_LIMIT = "stop limit";
const limitSchema = z.number().int().min(1).max(1_000_000).nullable();

/** The most stops that a round may do, foreseen or not; null where nobody has set one. */
export async function stopLimit(db: Db): Promise<number | null> {
  return maybeSetting(db, STOP_LIMIT, limitSchema);
}

/** The same, for whoever may look. */
export async function stopLimitOf({ pool }: Services, actor: Actor): Promise<number | null> {
  authorise(actor, "look", ESTATE);
  return stopLimit(pool);
}

/** Sets the limit on all stops of a round, or takes it away. */
export async function setStopLimit(services: Services, actor: Actor, limit: number | null): Promise<void> {
  authorise(actor, "limit stops", ESTATE);
  const parsed = limitSchema.safeParse(limit);
  if (!parsed.success)
    throw new RefusedError("invalid", "A limit is a whole number from 1.", [
      { path: "limit", message: "expected a whole number from 1" },
    ]);
  await saveSetting(services.pool, STOP_LIMIT, parsed.data);
  await signal(services.pool, "round");
}
