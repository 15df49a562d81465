import { z } from "zod";
import { calendarSchema } from "@/core/hours";

/** A calendar as the browser sends it to be looked at or saved. */
export const calendarBody = { calendar: calendarSchema };

export const calendarToSaveSchema = z.strictObject({
  ...calendarBody,
  dayNames: z.record(z.string().max(10), z.string().max(200)),
  version: z.number().int().min(0),
  confirmedStops: z.number().int().min(0),
});
