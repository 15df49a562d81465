import { z } from "zod";
import { person, services } from "@/app/services";
import { copyFleet } from "@/services";
import { answer, idOf, readBody } from "../../../answer";

type Context = { params: Promise<{ id: string }> };

export function POST(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    await readBody(request, z.strictObject({}));
    return { id: await copyFleet(services(), person(), idOf((await params).id)) };
  });
}
