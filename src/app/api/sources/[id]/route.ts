import { z } from "zod";
import { answers, byId, estate, route } from "@/app/http";
import { dropSource, editSource } from "@/services/metrics";
import { sourceSchema } from "../shapes";

export const PUT = route(
  "set up",
  estate,
  { input: { params: byId, body: sourceSchema }, answer: answers(z.strictObject({ isKept: z.literal(true) })) },
  async ({ services, actor, params, body }) => {
    await editSource(services, actor, params.id, body);
    return { isKept: true as const };
  },
);

export const DELETE = route(
  "set up",
  estate,
  {
    input: { params: byId, body: z.strictObject({ keepsSamples: z.boolean() }) },
    answer: answers(z.strictObject({ isRemoved: z.literal(true) })),
  },
  async ({ services, actor, params, body: { keepsSamples } }) => {
    await dropSource(services, actor, { id: params.id, keepsSamples });
    return { isRemoved: true as const };
  },
);
