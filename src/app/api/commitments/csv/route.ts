import { z } from "zod";
import { person, services } from "@/app/services";
import { importCommitments } from "@/services";
import { answer, readBody } from "../../answer";

const bodySchema = z.strictObject({ text: z.string() });

export function POST(request: Request): Promise<Response> {
  return answer(async () => importCommitments(services(), person(), (await readBody(request, bodySchema)).text));
}
