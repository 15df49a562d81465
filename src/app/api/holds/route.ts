import { z } from "zod";
import { answersWith, onOf, route } from "@/app/http";
import { placeHold } from "@/services/rounds";

const body = z.strictObject({
  on: z.union([z.strictObject({ resourceId: z.string().max(300) }), z.strictObject({ fleet: z.string().max(80) })]),
  level: z.number("a level is a whole number from 0").int("a level is a whole number from 0").min(0).max(1_000_000),
  /** Null: a few hours from now, the one press of a machine's row. */
  until: z.number().int().nullable(),
  reason: z.string().trim().min(1, "a word of why is asked for").max(500),
});

export const POST = route(
  "hold",
  onOf,
  { input: { body }, answer: answersWith<typeof placeHold>() },
  ({ services, actor, body: asked }) => placeHold(services, actor, asked),
);
