import { z } from "zod";
import { person, services } from "@/app/services";
import { createFleet } from "@/services";
import { answer, readBody } from "../answer";

const bodySchema = z.strictObject({ name: z.string().max(200), select: z.string().max(4000) });

export function POST(request: Request): Promise<Response> {
  return answer(async () => ({ id: await createFleet(services(), person(), await readBody(request, bodySchema)) }));
}
