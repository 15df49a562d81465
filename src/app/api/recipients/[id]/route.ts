import { z } from "zod";
import { person, services } from "@/app/services";
import { dropRecipient } from "@/services";
import { answer, idOf, readBody } from "../../answer";

type Context = { params: Promise<{ id: string }> };

export function DELETE(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    await readBody(request, z.strictObject({}));
    await dropRecipient(services(), person(), idOf((await params).id));
    return {};
  });
}
