import { z } from "zod";
import { answersWith, byId, estate, route } from "@/app/http";
import { tryNaming } from "@/services/metrics";
import { namingSchema } from "../../shapes";

/** What another rule would make of the hosts that were named so far. */
export const POST = route(
  "set up",
  estate,
  { input: { params: byId, body: z.strictObject({ naming: namingSchema }) }, answer: answersWith<typeof tryNaming>() },
  ({ services, actor, params, body: { naming } }) => tryNaming(services, actor, { id: params.id, naming }),
);
