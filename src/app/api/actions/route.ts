import { z } from "zod";
import { person, services } from "@/app/services";
import { actionsSince } from "@/services";
import { answer, readBody } from "../answer";

const bodySchema = z.strictObject({ resourceId: z.string().max(300), since: z.number().int() });

/** What was asked for one machine since an instant. */
export function POST(request: Request): Promise<Response> {
  return answer(async () => actionsSince(services(), person(), await readBody(request, bodySchema)));
}
