import { z } from "zod";
import { person, services } from "@/app/services";
import { moveHoldEnd, releaseHold } from "@/services";
import { answer, idOf, readBody } from "../../answer";

type Context = { params: Promise<{ id: string }> };

/** Moves its end: a person's start is kept longer, or a hold ends sooner. */
export function PATCH(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const id = idOf((await params).id);
    const { until } = await readBody(request, z.strictObject({ until: z.number().int() }));
    return moveHoldEnd(services(), person(), { id, until });
  });
}

/** Releases a hold before its end. */
export function DELETE(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const id = idOf((await params).id);
    await readBody(request, z.strictObject({}));
    await releaseHold(services(), person(), id);
    return { released: id };
  });
}
