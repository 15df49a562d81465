import { z } from "zod";
import { person, services } from "@/app/services";
import { lifeWeeks, WEEKS_MAX } from "@/services";
import { answer, readBody } from "../answer";

const bodySchema = z.strictObject({ ids: z.array(z.string().max(300)).max(WEEKS_MAX), at: z.number().int().nullable() });

/** Seven days of the lives of some machines. */
export function POST(request: Request): Promise<Response> {
  return answer(async () => lifeWeeks(services(), person(), await readBody(request, bodySchema)));
}
