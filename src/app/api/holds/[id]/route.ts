import { z } from "zod";
import { answers, answersWith, byId, estate, noBody, route } from "@/app/http";
import { moveHoldEnd, releaseHold } from "@/services/rounds";

/** Moves its end: a person's start is kept longer, or a hold ends sooner. What it is on is asked for by the use case. */
export const PATCH = route(
  "hold",
  estate,
  {
    input: { params: byId, body: z.strictObject({ until: z.number().int() }) },
    answer: answersWith<typeof moveHoldEnd>(),
  },
  ({ services, actor, params, body }) => moveHoldEnd(services, actor, { id: params.id, until: body.until }),
);

/** Releases a hold before its end. */
export const DELETE = route(
  "hold",
  estate,
  { input: { params: byId, body: noBody }, answer: answers(z.strictObject({ released: z.number().int() })) },
  async ({ services, actor, params }) => {
    await releaseHold(services, actor, params.id);
    return { released: params.id };
  },
);
