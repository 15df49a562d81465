import { z } from "zod";
import { person, services } from "@/app/services";
import { markMeant } from "@/services";
import { answer, readBody } from "../../answer";

const bodySchema = z.strictObject({
  key: z.string().max(500),
  untilDay: z.string().max(10).nullable(),
  reason: z.string().max(1000),
});

export function POST(request: Request): Promise<Response> {
  return answer(async () => {
    await markMeant(services(), person(), await readBody(request, bodySchema));
    return {};
  });
}
