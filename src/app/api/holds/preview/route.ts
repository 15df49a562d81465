import { z } from "zod";
import { person, services } from "@/app/services";
import { stoppedByHold } from "@/services";
import { answer, readBody } from "../../answer";

const bodySchema = z.strictObject({ fleet: z.string().max(80), level: z.number().int().min(0).max(1_000_000) });

/** Whom a hold on a fleet would stop at once. */
export function POST(request: Request): Promise<Response> {
  return answer(async () => ({ stops: await stoppedByHold(services(), person(), await readBody(request, bodySchema)) }));
}
