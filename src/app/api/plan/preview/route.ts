import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { previewPlan } from "@/services/plans";

export const POST = route(
  "look",
  estate,
  { input: { body: z.strictObject({ text: z.string() }) }, answer: answersWith<typeof previewPlan>() },
  ({ services, actor, body }) => previewPlan(services, actor, body.text),
);
