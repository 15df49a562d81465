import { z } from "zod";
import { person, services } from "@/app/services";
import { askForRound } from "@/services";
import { answer, readBody } from "../answer";

const bodySchema = z.strictObject({
  mode: z.enum(["act", "rehearse"]),
  /** The machines of this fleet alone. */
  fleet: z.string().max(200).optional(),
  /** A rehearsal of another instant than now, in seconds since 1970. */
  at: z.number().int().optional(),
});

export function POST(request: Request): Promise<Response> {
  return answer(async () => askForRound(services(), person(), await readBody(request, bodySchema)));
}
