import { z } from "zod";
import { person, services } from "@/app/services";
import { setStrayAges } from "@/services";
import { answer, readBody } from "../../answer";

const bodySchema = z.strictObject({ imageDays: z.number(), runDays: z.number() });

export function PUT(request: Request): Promise<Response> {
  return answer(async () => {
    await setStrayAges(services(), person(), await readBody(request, bodySchema));
    return {};
  });
}
