import { z } from "zod";
import { answers, estate, route } from "@/app/http";
import { approveStops } from "@/services/rounds";

const body = z.strictObject({ round: z.number().int().positive(), stops: z.number().int().positive() });

/** Lets the stops go that a round held, just those that the person saw. */
export const POST = route(
  "approve stops",
  estate,
  { input: { body }, answer: answers(z.strictObject({ isAsked: z.literal(true) })) },
  async ({ services, actor, body: asked }) => {
    await approveStops(services, actor, asked);
    return { isAsked: true as const };
  },
);
