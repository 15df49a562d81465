import { z } from "zod";
import { person, services } from "@/app/services";
import { askForRound } from "@/services";
import { answer, readBody } from "../answer";

const bodySchema = z.strictObject({
  mode: z.enum(["act", "rehearse"]),
  /** The machines of this fleet alone. */
  fleet: z.string().max(200).optional(),
});

export function POST(request: Request): Promise<Response> {
  return answer(async () => askForRound(services(), person(), await readBody(request, bodySchema)));
}
