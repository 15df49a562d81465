import { z } from "zod";
import { answersWith, estate, ofAccount, route } from "@/app/http";
import { pauseRounds, pauses } from "@/services/rounds";

const body = z.strictObject({ account: z.string().max(200).nullable().default(null), reason: z.string().max(400) });

export const GET = route("look", estate, { input: {}, answer: answersWith<typeof pauses>() }, ({ services, actor }) =>
  pauses(services, actor),
);

/** Pauses all rounds, or those of one account. */
export const POST = route(
  "pause rounds",
  ofAccount,
  { input: { body }, answer: answersWith<typeof pauses>() },
  async ({ services, actor, body: asked }) => {
    await pauseRounds(services, actor, asked);
    return pauses(services, actor);
  },
);
