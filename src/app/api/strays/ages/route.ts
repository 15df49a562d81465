import { z } from "zod";
import { done, estate, route } from "@/app/http";
import { setStrayAges } from "@/services/cost";

const body = z.strictObject({ imageDays: z.number(), runDays: z.number() });

export const PUT = route("edit plans", estate, { input: { body }, answer: done }, async ({ services, actor, body: asked }) => {
  await setStrayAges(services, actor, asked);
  return {};
});
