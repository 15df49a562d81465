import { z } from "zod";
import { person, services } from "@/app/services";
import { fleetDraftSchema } from "@/core/plan";
import { keepDraft, storedDraft } from "@/services";
import { answer, idOf, readBody } from "../../answer";

const bodySchema = z.strictObject({
  draft: fleetDraftSchema,
  version: z.number().int(),
  /** Which page writes, and its own count of its writes. */
  editor: z.string().min(1).max(80),
  write: z.number().int().min(0),
});

type Context = { params: Promise<{ id: string }> };

/** The draft as it is stored. */
export function GET(_: Request, { params }: Context): Promise<Response> {
  return answer(async () => storedDraft(services(), person(), idOf((await params).id)));
}

export function PUT(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const id = idOf((await params).id);
    const { draft, version, editor, write } = await readBody(request, bodySchema);
    return { version: await keepDraft(services(), person(), { id, draft, version, by: { editor, write } }) };
  });
}
