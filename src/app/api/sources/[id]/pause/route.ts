import { z } from "zod";
import { person, services } from "@/app/services";
import { pauseSource } from "@/services";
import { answer, idOf, readBody } from "../../../answer";

type Context = { params: Promise<{ id: string }> };
const bodySchema = z.strictObject({ isPaused: z.boolean() });

export function PUT(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const { isPaused } = await readBody(request, bodySchema);
    await pauseSource(services(), person(), idOf((await params).id), isPaused);
    return { isPaused };
  });
}
