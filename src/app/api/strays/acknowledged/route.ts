import { z } from "zod";
import { done, estate, route } from "@/app/http";
import { acknowledge } from "@/services/cost";

const body = z.strictObject({
  key: z.string().max(500),
  untilDay: z.string().max(10).nullable(),
  reason: z.string().max(1000),
});

export const POST = route("hold", estate, { input: { body }, answer: done }, async ({ services, actor, body: asked }) => {
  await acknowledge(services, actor, asked);
  return {};
});
