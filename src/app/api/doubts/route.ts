import { z } from "zod";
import { person, services } from "@/app/services";
import { believeListing } from "@/services";
import { answer, readBody } from "../answer";

const bodySchema = z.strictObject({ account: z.string().max(200), since: z.number().int() });

/** A person says that the doubted listing of an account is true. */
export function POST(request: Request): Promise<Response> {
  return answer(async () => {
    await believeListing(services(), person(), await readBody(request, bodySchema));
    return { isBelieved: true };
  });
}
