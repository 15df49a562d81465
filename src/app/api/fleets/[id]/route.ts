import { z } from "zod";
import { person, services } from "@/app/services";
import { fleetDraftSchema } from "@/core/plan";
import { keepDraft } from "@/services";
import { answer, idOf, readBody } from "../../answer";

const bodySchema = z.strictObject({ draft: fleetDraftSchema, version: z.number().int() });

type Context = { params: Promise<{ id: string }> };

export function PUT(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const id = idOf((await params).id);
    return { version: await keepDraft(services(), person(), { id, ...(await readBody(request, bodySchema)) }) };
  });
}
