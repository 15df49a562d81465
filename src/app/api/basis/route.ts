import { z } from "zod";
import { person, services } from "@/app/services";
import { projectionBasis } from "@/services";
import { answer, readBody } from "../answer";

const bodySchema = z.strictObject({
  selector: z.string().max(4000),
  fleetId: z.number().int().nullable(),
  at: z.number().int().nullable().default(null),
  view: z.enum(["after", "before"]).default("after"),
});

export function POST(request: Request): Promise<Response> {
  return answer(async () => projectionBasis(services(), person(), await readBody(request, bodySchema)));
}
