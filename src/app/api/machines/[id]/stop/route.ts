import { z } from "zod";
import { answersWith, nameSchema, ofResource, route } from "@/app/http";
import { stopByHand } from "@/services/rounds";

export const POST = route(
  "stop",
  ofResource,
  {
    input: { params: z.strictObject({ id: nameSchema }), body: z.strictObject({ why: z.string().max(300) }) },
    answer: answersWith<typeof stopByHand>(),
  },
  ({ services, actor, params, body: { why } }) => stopByHand(services, actor, { resourceId: params.id, why }),
);
