import { z } from "zod";
import { person, services } from "@/app/services";
import { undoPrices } from "@/services";
import { answer, idOf, readBody } from "../../../answer";

type Context = { params: Promise<{ id: string }> };

/** Takes a file of prices back. */
export function DELETE(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    await readBody(request, z.strictObject({}));
    return undoPrices(services(), person(), idOf((await params).id));
  });
}
