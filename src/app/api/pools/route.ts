import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";

import { pooledSchema } from "@/core/plan";
import { poolHistory } from "@/services/ready";

const { disconnectWait, signOffWait } = pooledSchema.shape;
const body = z.strictObject({
  ids: z.array(z.string().max(400)).max(20_000),
  waits: z.strictObject({ disconnectWait, signOffWait }),
});

/** How many of some machines were in use over the last weeks. */
export const POST = route(
  "look",
  estate,
  { input: { body }, answer: answersWith<typeof poolHistory>() },
  ({ services, actor, body: asked }) => poolHistory(services, actor, asked),
);
