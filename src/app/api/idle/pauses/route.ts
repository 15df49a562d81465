import { z } from "zod";
import { person, services } from "@/app/services";
import { pauseAlarms } from "@/services";
import { answer, readBody } from "../../answer";

const bodySchema = z.strictObject({
  on: z.union([z.strictObject({ resourceId: z.string().max(300) }), z.strictObject({ fleet: z.string().max(80) })]),
  until: z.number().int(),
  reason: z.string().max(500),
});

/** Pauses the alarms of a machine or a fleet. */
export function POST(request: Request): Promise<Response> {
  return answer(async () => pauseAlarms(services(), person(), await readBody(request, bodySchema)));
}
