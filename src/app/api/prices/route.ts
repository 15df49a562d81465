import { z } from "zod";
import { done, estate, route } from "@/app/http";
import { overridePrice } from "@/services/cost";

const body = z.strictObject({ key: z.string().max(600), rate: z.string().max(60).nullable(), fromDay: z.string().max(10) });

export const POST = route("set prices", estate, { input: { body }, answer: done }, async ({ services, actor, body: asked }) => {
  await overridePrice(services, actor, asked);
  return {};
});
