import { z } from "zod";
import { answers, estate, route } from "@/app/http";
import { declineStops } from "@/services/rounds";

const body = z.strictObject({ round: z.number().int().positive(), stops: z.number().int().positive() });

/** Keeps on what a round would stop, just those that the person saw. */
export const POST = route(
  "approve stops",
  estate,
  { input: { body }, answer: answers(z.strictObject({ isAsked: z.literal(true) })) },
  async ({ services, actor, body: asked }) => {
    await declineStops(services, actor, asked);
    return { isAsked: true as const };
  },
);
