import { z } from "zod";
import { person, services } from "@/app/services";
import { bringBackFleet } from "@/services";
import { answer, idOf, readBody } from "../../../answer";

type Context = { params: Promise<{ id: string }> };

export function POST(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    await readBody(request, z.strictObject({}));
    await bringBackFleet(services(), person(), idOf((await params).id));
    return {};
  });
}
