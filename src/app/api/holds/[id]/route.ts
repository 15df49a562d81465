import { z } from "zod";
import { person, services } from "@/app/services";
import { releaseHold } from "@/services";
import { answer, idOf, readBody } from "../../answer";

type Context = { params: Promise<{ id: string }> };

/** Releases a hold before its end. */
export function DELETE(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const id = idOf((await params).id);
    await readBody(request, z.strictObject({}));
    await releaseHold(services(), person(), id);
    return { released: id };
  });
}
