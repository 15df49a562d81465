import { z } from "zod";
import { person, services } from "@/app/services";
import { askForRound } from "@/services";
import { answer, readBody } from "../answer";

const bodySchema = z.strictObject({
  mode: z.enum(["act", "rehearse"]),
  /** Stops that the person has confirmed by their number, for a round that the brake held. */
  allowStops: z.number().int().min(1).optional(),
});

export function POST(request: Request): Promise<Response> {
  return answer(async () => askForRound(services(), person(), await readBody(request, bodySchema)));
}
