import { z } from "zod";
import { answers, byId, estate, route } from "@/app/http";
import { pauseSource } from "@/services/metrics";

const paused = z.strictObject({ isPaused: z.boolean() });

export const PUT = route(
  "set up",
  estate,
  { input: { params: byId, body: paused }, answer: answers(paused) },
  async ({ services, actor, params, body: { isPaused } }) => {
    await pauseSource(services, actor, params.id, isPaused);
    return { isPaused };
  },
);
