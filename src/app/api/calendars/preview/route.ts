import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { previewCalendar } from "@/services/plans";
import { calendarBody } from "../body";

export const POST = route(
  "look",
  estate,
  { input: { body: z.strictObject(calendarBody) }, answer: answersWith<typeof previewCalendar>() },
  ({ services, actor, body }) => previewCalendar(services, actor, body.calendar),
);
