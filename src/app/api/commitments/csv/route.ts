import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { importCommitments } from "@/services/cost";

export const POST = route(
  "set prices",
  estate,
  { input: { body: z.strictObject({ text: z.string() }) }, answer: answersWith<typeof importCommitments>() },
  ({ services, actor, body }) => importCommitments(services, actor, body.text),
);
