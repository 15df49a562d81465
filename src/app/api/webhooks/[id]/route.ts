import { z } from "zod";
import { person, services } from "@/app/services";
import { removeHook, setHook } from "@/services";
import { answer, idOf, readBody, refuseElsewhere } from "../../answer";

type Context = { params: Promise<{ id: string }> };
const bodySchema = z.strictObject({ isOn: z.boolean() });

export function PUT(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const { isOn } = await readBody(request, bodySchema);
    await setHook(services(), person(), { id: idOf((await params).id), isOn });
    return { isOn };
  });
}

export function DELETE(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    refuseElsewhere(request);
    await removeHook(services(), person(), idOf((await params).id));
    return { isRemoved: true };
  });
}
