import { z } from "zod";
import { person, services } from "@/app/services";
import { tryNaming } from "@/services";
import { answer, idOf, readBody } from "../../../answer";
import { namingSchema } from "../../shapes";

type Context = { params: Promise<{ id: string }> };
const bodySchema = z.strictObject({ naming: namingSchema });

/** What another rule would make of the hosts that were named so far. */
export function POST(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const { naming } = await readBody(request, bodySchema);
    return tryNaming(services(), person(), { id: idOf((await params).id), naming });
  });
}
