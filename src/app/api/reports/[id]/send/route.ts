import { z } from "zod";
import { person, services } from "@/app/services";
import { sendNow } from "@/services";
import { answer, idOf, readBody } from "../../../answer";

const bodySchema = z.strictObject({ recipientId: z.number().int().nullable() });

type Context = { params: Promise<{ id: string }> };

export function POST(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const { recipientId } = await readBody(request, bodySchema);
    return sendNow(services(), person(), { reportId: idOf((await params).id), recipientId });
  });
}
