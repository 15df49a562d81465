import { z } from "zod";
import { person, services } from "@/app/services";
import { reportEditSchema, saveReport } from "@/services";
import { answer, readBody } from "../answer";

const bodySchema = z.strictObject({ version: z.number().int(), draft: reportEditSchema });

export function POST(request: Request): Promise<Response> {
  return answer(async () => {
    const { draft } = await readBody(request, bodySchema);
    return { id: await saveReport(services(), person(), { id: null, version: 0, draft }) };
  });
}
