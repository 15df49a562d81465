import { z } from "zod";
import { person, services } from "@/app/services";
import { removeCalendar } from "@/services";
import { answer, decoded, readBody } from "../../answer";

type Context = { params: Promise<{ name: string }> };

export function DELETE(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const { name } = await params;
    const { version } = await readBody(request, z.strictObject({ version: z.number().int() }));
    await removeCalendar(services(), person(), decoded(name), version);
    return { removed: true };
  });
}
