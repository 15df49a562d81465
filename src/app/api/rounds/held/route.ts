import { z } from "zod";
import { answers, estate, route } from "@/app/http";
import { approveStops, declineStops } from "@/services/rounds";

const body = z.strictObject({
  round: z.number().int().positive(),
  stops: z.number().int().positive(),
  answer: z.enum(["yes", "no"]),
});

/** A person's answer to the stops that a round holds, just those that the person saw: a yes lets them go, a no keeps them on. */
export const POST = route(
  "approve stops",
  estate,
  { input: { body }, answer: answers(z.strictObject({ isAsked: z.literal(true) })) },
  async ({ services, actor, body: { answer, ...asked } }) => {
    await (answer === "yes" ? approveStops : declineStops)(services, actor, asked);
    return { isAsked: true as const };
  },
);
