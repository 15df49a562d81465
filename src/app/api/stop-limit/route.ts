import { z } from "zod";
import { answers, estate, route } from "@/app/http";
import { setStopLimit } from "@/services/rounds";

const limited = z.strictObject({ limit: z.number().int().nullable() });

export const PUT = route(
  "limit stops",
  estate,
  { input: { body: limited }, answer: answers(limited) },
  async ({ services, actor, body: { limit } }) => {
    await setStopLimit(services, actor, limit);
    return { limit };
  },
);
