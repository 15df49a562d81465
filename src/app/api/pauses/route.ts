import { z } from "zod";
import { person, services } from "@/app/services";
import { pauseRounds, pauses } from "@/services";
import { answer, readBody } from "../answer";

const bodySchema = z.strictObject({ account: z.string().max(200).nullable().default(null), reason: z.string().max(400) });

export function GET(): Promise<Response> {
  return answer(() => pauses(services(), person()));
}

/** Pauses all rounds, or those of one account. */
export function POST(request: Request): Promise<Response> {
  return answer(async () => {
    await pauseRounds(services(), person(), await readBody(request, bodySchema));
    return pauses(services(), person());
  });
}
