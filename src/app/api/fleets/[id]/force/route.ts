import { z } from "zod";
import { person, services } from "@/app/services";
import { putInForce } from "@/services";
import { answer, idOf, readBody } from "../../../answer";

const bodySchema = z.strictObject({
  version: z.number().int(),
  why: z.string().trim().min(1, "a word of why is asked for").max(500),
  confirmedStops: z.number().int().min(0),
});

type Context = { params: Promise<{ id: string }> };

export function POST(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const id = idOf((await params).id);
    return { version: await putInForce(services(), person(), { id, ...(await readBody(request, bodySchema)) }) };
  });
}
