import { z } from "zod";
import { person, services } from "@/app/services";
import { inviteRecipient } from "@/services";
import { answer, idOf, readBody } from "../../../answer";

const bodySchema = z.strictObject({ address: z.string().max(400), scope: z.string().max(4000) });

type Context = { params: Promise<{ id: string }> };

export function POST(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const body = await readBody(request, bodySchema);
    await inviteRecipient(services(), person(), { reportId: idOf((await params).id), ...body });
    return {};
  });
}
