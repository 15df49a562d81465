import { z } from "zod";
import { answers, estate, route } from "@/app/http";
import { saveCalendar } from "@/services/plans";
import { calendarToSaveSchema } from "./body";

export const POST = route(
  "put in force",
  estate,
  { input: { body: calendarToSaveSchema }, answer: answers(z.strictObject({ version: z.number().int() })) },
  async ({ services, actor, body }) => ({ version: await saveCalendar(services, actor, body) }),
);
