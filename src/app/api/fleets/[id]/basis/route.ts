import { z } from "zod";
import { person, services } from "@/app/services";
import { setBasis } from "@/services";
import { answer, idOf, readBody } from "../../../answer";

const bodySchema = z.strictObject({ basis: z.strictObject({ from: z.string(), to: z.string() }).nullable() });

type Context = { params: Promise<{ id: string }> };

export function PUT(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const id = idOf((await params).id);
    await setBasis(services(), person(), { id, ...(await readBody(request, bodySchema)) });
    return {};
  });
}
