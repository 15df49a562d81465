import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { projectionBasis } from "@/services/cost";

const body = z.strictObject({
  selector: z.string().max(4000),
  fleetId: z.number().int().nullable(),
  at: z.number().int().nullable().default(null),
  view: z.enum(["after", "before"]).default("after"),
});

export const POST = route(
  "look",
  estate,
  { input: { body }, answer: answersWith<typeof projectionBasis>() },
  ({ services, actor, body: asked }) => projectionBasis(services, actor, asked),
);
