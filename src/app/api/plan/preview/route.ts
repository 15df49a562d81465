import { z } from "zod";
import { person, services } from "@/app/services";
import { previewPlan } from "@/services";
import { answer, readBody } from "../../answer";

export function POST(request: Request): Promise<Response> {
  return answer(async () =>
    previewPlan(services(), person(), (await readBody(request, z.strictObject({ text: z.string() }))).text),
  );
}
