import { z } from "zod";
import { person, services } from "@/app/services";
import { setStopLimit } from "@/services";
import { answer, readBody } from "../answer";

const bodySchema = z.strictObject({ limit: z.number().int().nullable() });

export function PUT(request: Request): Promise<Response> {
  return answer(async () => {
    const { limit } = await readBody(request, bodySchema);
    await setStopLimit(services(), person(), limit);
    return { limit };
  });
}
