import { z } from "zod";
import { person, services } from "@/app/services";
import { tryPull } from "@/services";
import { answer, readBody } from "../../answer";
import { namingSchema, querySchema } from "../shapes";

const bodySchema = z.strictObject({ url: z.url({ protocol: /^https?$/ }), query: querySchema, naming: namingSchema });

/** What a query gives now, and which machines that names. */
export function POST(request: Request): Promise<Response> {
  return answer(async () => tryPull(services(), person(), await readBody(request, bodySchema)));
}
