import { z } from "zod";
import { person, services } from "@/app/services";
import { letGo } from "@/services";
import { answer, readBody } from "../../answer";

const bodySchema = z.strictObject({ round: z.number().int().positive(), stops: z.number().int().positive() });

/** Lets the stops go that a round held, just those that the person saw. */
export function POST(request: Request): Promise<Response> {
  return answer(async () => {
    await letGo(services(), person(), await readBody(request, bodySchema));
    return { isAsked: true };
  });
}
