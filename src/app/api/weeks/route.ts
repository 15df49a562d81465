import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { lifeWeeks, WEEKS_MAX } from "@/services/inventory";

const body = z.strictObject({ ids: z.array(z.string().max(300)).max(WEEKS_MAX), at: z.number().int().nullable() });

/** Seven days of the lives of some machines. */
export const POST = route(
  "look",
  estate,
  { input: { body }, answer: answersWith<typeof lifeWeeks>() },
  ({ services, actor, body: asked }) => lifeWeeks(services, actor, asked),
);
