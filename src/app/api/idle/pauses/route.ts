import { z } from "zod";
import { answersWith, onOf, route } from "@/app/http";
import { pauseAlarms } from "@/services/idle";

const body = z.strictObject({
  on: z.union([z.strictObject({ resourceId: z.string().max(300) }), z.strictObject({ fleet: z.string().max(80) })]),
  until: z.number().int(),
  reason: z.string().max(500),
});

/** Pauses the alarms of a machine or a fleet. */
export const POST = route(
  "hold",
  onOf,
  { input: { body }, answer: answersWith<typeof pauseAlarms>() },
  ({ services, actor, body: asked }) => pauseAlarms(services, actor, asked),
);
