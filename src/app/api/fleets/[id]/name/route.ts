import { z } from "zod";
import { person, services } from "@/app/services";
import { renameFleet } from "@/services";
import { answer, idOf, readBody } from "../../../answer";

const bodySchema = z.strictObject({ name: z.string().max(200), version: z.number().int() });

type Context = { params: Promise<{ id: string }> };

export function PUT(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    await renameFleet(services(), person(), { id: idOf((await params).id), ...(await readBody(request, bodySchema)) });
    return {};
  });
}
