import { z } from "zod";
import { answers, byId, estate, route } from "@/app/http";
import { testHook } from "@/services/notify";

/** Sends an event that says nothing but that it is one. */
export const POST = route(
  "set up",
  estate,
  { input: { params: byId }, answer: answers(z.strictObject({ isAsked: z.literal(true) })) },
  async ({ services, actor, params }) => {
    await testHook(services, actor, params.id);
    return { isAsked: true as const };
  },
);
