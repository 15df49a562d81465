import { z } from "zod";
import { nameSchema } from "../hours/schedule";

const minutes = z.number().int().min(0).max(10_080);

/** That a fleet's machines do the same work, and how many are kept ready (docs/model.md, Ready machines). Waits in minutes. */
export const pooledSchema = z.strictObject({
  /** Machines wanted without anybody, besides those in use: a number, or a schedule whose level it is. */
  spare: z.union([z.number().int().min(0).max(1_000_000), nameSchema]).default(0),
  /** How long a disconnected session counts as in use; null: as long as it lasts. */
  disconnectWait: minutes.nullable().default(null),
  /** How long a machine counts as in use after the last sign-off. */
  signOffWait: minutes.default(0),
  /** How long a start is left alone. */
  settle: minutes.default(10),
});

/** How a pool is kept ready, in words; of none that each has its own machine. */
export function pooledWords(pooled: Pooled | undefined): string {
  if (!pooled) return "each has its own machine";
  const { spare, disconnectWait, signOffWait, settle } = pooled;
  const left = disconnectWait === null ? "as long as it lasts" : `${disconnectWait} min`;
  return `shared, ${spare} spare, disconnected ${left}, signed off ${signOffWait} min, settled ${settle} min`;
}

export type Pooled = z.infer<typeof pooledSchema>;
