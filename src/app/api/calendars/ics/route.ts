import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { zoneSchema } from "@/core/hours";
import { holidaysOfIcs } from "@/services/plans";

/** Reads a calendar file; nothing is saved. */
export const POST = route(
  "look",
  estate,
  { input: { body: z.strictObject({ text: z.string(), zone: zoneSchema }) }, answer: answersWith<typeof holidaysOfIcs>() },
  ({ services, actor, body }) => holidaysOfIcs(services, actor, body),
);
