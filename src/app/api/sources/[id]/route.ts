import { z } from "zod";
import { person, services } from "@/app/services";
import { dropSource, editSource } from "@/services";
import { answer, idOf, readBody } from "../../answer";
import { sourceSchema } from "../shapes";

type Context = { params: Promise<{ id: string }> };
const dropSchema = z.strictObject({ keepsSamples: z.boolean() });

export function PUT(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    await editSource(services(), person(), idOf((await params).id), await readBody(request, sourceSchema));
    return { isKept: true };
  });
}

export function DELETE(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const { keepsSamples } = await readBody(request, dropSchema);
    await dropSource(services(), person(), { id: idOf((await params).id), keepsSamples });
    return { isRemoved: true };
  });
}
