import { z } from "zod";
import { person, services } from "@/app/services";
import { previewFleets } from "@/services";
import { answer, readBody } from "../../../answer";
import { fleetsChangeSchema } from "../schema";

const bodySchema = z.strictObject({ change: fleetsChangeSchema });

export function POST(request: Request): Promise<Response> {
  return answer(async () => previewFleets(services(), person(), (await readBody(request, bodySchema)).change));
}
