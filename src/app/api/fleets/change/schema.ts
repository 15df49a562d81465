import { z } from "zod";

const id = z.number().int().positive();

/** What is done with whole fleets, as `FleetsChange` has it. */
export const fleetsChangeSchema = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("order"), ids: z.array(id).max(10_000) }),
  z.strictObject({ kind: z.literal("out of force"), id }),
  z.strictObject({ kind: z.literal("retire"), id }),
]);
