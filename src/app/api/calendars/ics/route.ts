import { z } from "zod";
import { person, services } from "@/app/services";
import { zoneSchema } from "@/core/hours";
import { holidaysOfIcs } from "@/services";
import { answer, readBody } from "../../answer";

const bodySchema = z.strictObject({ text: z.string(), zone: zoneSchema });

/** Reads a calendar file; nothing is saved. */
export function POST(request: Request): Promise<Response> {
  return answer(async () => holidaysOfIcs(services(), person(), await readBody(request, bodySchema)));
}
