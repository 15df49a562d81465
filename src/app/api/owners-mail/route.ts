import { z } from "zod";
import { person, services } from "@/app/services";
import { setOwnersMail } from "@/services";
import { answer, readBody } from "../answer";

const bodySchema = z.strictObject({ tag: z.string().max(200), domain: z.string().max(200) });

/** How owners' tags become addresses. */
export function PUT(request: Request): Promise<Response> {
  return answer(async () => {
    const owners = await readBody(request, bodySchema);
    await setOwnersMail(services(), person(), owners);
    return owners;
  });
}
