import { z } from "zod";
import { answers, byId, estate, route } from "@/app/http";
import { askHistory } from "@/services/metrics";

/** Asks a Prometheus for the last four weeks, in the background. */
export const POST = route(
  "set up",
  estate,
  { input: { params: byId }, answer: answers(z.strictObject({ isAsked: z.literal(true) })) },
  async ({ services, actor, params }) => {
    await askHistory(services, actor, params.id);
    return { isAsked: true as const };
  },
);
