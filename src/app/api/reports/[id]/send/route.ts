import { z } from "zod";
import { answersWith, byId, estate, route } from "@/app/http";
import { sendNow } from "@/services/report";

const body = z.strictObject({ recipientId: z.number().int().nullable() });

export const POST = route(
  "send reports",
  estate,
  { input: { params: byId, body }, answer: answersWith<typeof sendNow>() },
  ({ services, actor, params, body: { recipientId } }) => sendNow(services, actor, { reportId: params.id, recipientId }),
);
