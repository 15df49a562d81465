import { z } from "zod";
import { answers, route } from "@/app/http";
import { stoppedByHold } from "@/services/rounds";

const body = z.strictObject({ fleet: z.string().max(80), level: z.number().int().min(0).max(1_000_000) });

/** Whom a hold on a fleet would stop at once. */
export const POST = route(
  "look",
  ({ body: { fleet } }) => ({ kind: "fleet", fleet }),
  { input: { body }, answer: answers(z.strictObject({ stops: z.array(z.string()).readonly() })) },
  async ({ services, actor, body: asked }) => ({ stops: await stoppedByHold(services, actor, asked) }),
);
