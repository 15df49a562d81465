import { z } from "zod";
import { person, services } from "@/app/services";
import { changeFleets } from "@/services";
import { answer, readBody } from "../../answer";
import { fleetsChangeSchema } from "./schema";

const bodySchema = z.strictObject({
  change: fleetsChangeSchema,
  why: z.string().trim().min(1, "a word of why is asked for").max(500),
  confirmedStops: z.number().int().min(0),
  version: z.number().int().optional(),
});

export function POST(request: Request): Promise<Response> {
  return answer(async () => {
    await changeFleets(services(), person(), await readBody(request, bodySchema));
    return {};
  });
}
