import { z } from "zod";
import { answersWith, nameSchema, ofResource, route } from "@/app/http";
import { machineDays } from "@/services/cost";

/** Four weeks of a machine on one axis of time. */
export const GET = route(
  "look",
  ofResource,
  { input: { params: z.strictObject({ id: nameSchema }) }, answer: answersWith<typeof machineDays>() },
  ({ services, actor, params }) => machineDays(services, actor, { id: params.id }),
);
