import { promisedBy } from "@/core/levers";
import type { GapCause } from "@/core/realised";
import type { RealisedDay } from "@/store";

/** What levers beside the hours were foretold to save on a day, together. */
export function promisedInAll({ levers }: Pick<RealisedDay, "levers">): bigint {
  return [...promisedBy(levers).values()].reduce((sum, amount) => sum + amount, 0n);
}

/** What a cause made dearer than was foretold, on a day: a lever that saved what it promised missed nothing. */
export function missedBy({ gap, levers }: Pick<RealisedDay, "gap" | "levers">, cause: GapCause): bigint {
  return gap[cause] + (promisedBy(levers).get(cause) ?? 0n);
}
