import { z } from "zod";
import { done, estate, route } from "@/app/http";
import { changeFleets } from "@/services/plans";
import { fleetsChangeSchema } from "./schema";

const body = z.strictObject({
  change: fleetsChangeSchema,
  why: z.string().trim().min(1, "a word of why is asked for").max(500),
  confirmedStops: z.number().int().min(0),
  version: z.number().int().optional(),
});

export const POST = route("put in force", estate, { input: { body }, answer: done }, async ({ services, actor, body: asked }) => {
  await changeFleets(services, actor, asked);
  return {};
});
