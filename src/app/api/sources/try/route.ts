import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { tryPull } from "@/services/metrics";
import { namingSchema, querySchema } from "../shapes";

const body = z.strictObject({ url: z.url({ protocol: /^https?$/ }), query: querySchema, naming: namingSchema });

/** What a query gives now, and which machines that names. */
export const POST = route(
  "set up",
  estate,
  { input: { body }, answer: answersWith<typeof tryPull>() },
  ({ services, actor, body: asked }) => tryPull(services, actor, asked),
);
