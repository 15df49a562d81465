import { z } from "zod";
import { person, services } from "@/app/services";
import { placeHold } from "@/services";
import { answer, readBody } from "../answer";

const bodySchema = z.strictObject({
  on: z.union([z.strictObject({ resourceId: z.string().max(300) }), z.strictObject({ fleet: z.string().max(80) })]),
  level: z.number("a level is a whole number from 0").int("a level is a whole number from 0").min(0).max(1_000_000),
  /** Null: a few hours from now, the one press of a machine's row. */
  until: z.number().int().nullable(),
  reason: z.string().trim().min(1, "a word of why is asked for").max(500),
});

export function POST(request: Request): Promise<Response> {
  return answer(async () => placeHold(services(), person(), await readBody(request, bodySchema)));
}
