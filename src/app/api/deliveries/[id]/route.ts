import { z } from "zod";
import { answers, byId, estate, route } from "@/app/http";
import { retryDelivery } from "@/services/notify";

/** Tries a delivery again that was given up. */
export const POST = route(
  "set up",
  estate,
  { input: { params: byId }, answer: answers(z.strictObject({ isAsked: z.literal(true) })) },
  async ({ services, actor, params }) => {
    await retryDelivery(services, actor, params.id);
    return { isAsked: true as const };
  },
);
