import { z } from "zod";
import { person, services } from "@/app/services";
import { overridePrice } from "@/services";
import { answer, readBody } from "../answer";

const bodySchema = z.strictObject({ key: z.string().max(600), rate: z.string().max(60).nullable(), fromDay: z.string().max(10) });

export function POST(request: Request): Promise<Response> {
  return answer(async () => {
    await overridePrice(services(), person(), await readBody(request, bodySchema));
    return {};
  });
}
