import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { askForRound } from "@/services/rounds";

const body = z.strictObject({
  mode: z.enum(["act", "rehearse"]),
  /** The machines of this fleet alone. */
  fleet: z.string().max(200).optional(),
  /** A rehearsal of another instant than now, in seconds since 1970. */
  at: z.number().int().optional(),
});

export const POST = route(
  "ask for rounds",
  ({ body: { fleet } }) => (fleet === undefined ? estate() : { kind: "fleet", fleet }),
  { input: { body }, answer: answersWith<typeof askForRound>() },
  ({ services, actor, body: asked }) => askForRound(services, actor, asked),
);
