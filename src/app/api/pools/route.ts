import { z } from "zod";
import { person, services } from "@/app/services";
import { pooledSchema } from "@/core/ready";
import { poolHistory } from "@/services";
import { answer, readBody } from "../answer";

const { disconnectWait, signOffWait } = pooledSchema.shape;
const bodySchema = z.strictObject({
  ids: z.array(z.string().max(400)).max(20_000),
  waits: z.strictObject({ disconnectWait, signOffWait }),
});

/** How many of some machines were in use over the last weeks. */
export function POST(request: Request): Promise<Response> {
  return answer(async () => poolHistory(services(), person(), await readBody(request, bodySchema)));
}
