import { z } from "zod";
import { answersWith, route } from "@/app/http";
import { actionsSince } from "@/services/rounds";

const body = z.strictObject({ resourceId: z.string().max(300), since: z.number().int() });

/** What was asked for one machine since an instant. */
export const POST = route(
  "look",
  ({ body: { resourceId } }) => ({ kind: "resource", id: resourceId, fleet: null }),
  { input: { body }, answer: answersWith<typeof actionsSince>() },
  ({ services, actor, body: asked }) => actionsSince(services, actor, asked),
);
