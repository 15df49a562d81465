import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { previewFleets } from "@/services/plans";
import { fleetsChangeSchema } from "../schema";

export const POST = route(
  "look",
  estate,
  { input: { body: z.strictObject({ change: fleetsChangeSchema }) }, answer: answersWith<typeof previewFleets>() },
  ({ services, actor, body }) => previewFleets(services, actor, body.change),
);
