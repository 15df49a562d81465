import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { makeWebhook, webhooks } from "@/services/notify";

export const GET = route("look", estate, { input: {}, answer: answersWith<typeof webhooks>() }, ({ services, actor }) =>
  webhooks(services, actor),
);

/** Sets a webhook up; answers with its secret, this once. */
export const POST = route(
  "set up",
  estate,
  { input: { body: z.strictObject({ url: z.string().max(4000) }) }, answer: answersWith<typeof makeWebhook>() },
  ({ services, actor, body }) => makeWebhook(services, actor, body.url),
);
