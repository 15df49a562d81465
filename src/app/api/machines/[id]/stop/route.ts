import { z } from "zod";
import { person, services } from "@/app/services";
import { stopByHand } from "@/services";
import { answer, decoded, readBody } from "../../../answer";

const bodySchema = z.strictObject({ why: z.string().max(300) });

type Context = { params: Promise<{ id: string }> };

export function POST(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const { why } = await readBody(request, bodySchema);
    return stopByHand(services(), person(), { resourceId: decoded((await params).id), why });
  });
}
