import { z } from "zod";
import { answers, byId, ofFleet, route } from "@/app/http";
import { putInForce } from "@/services/plans";

const body = z.strictObject({
  version: z.number().int(),
  why: z.string().trim().min(1, "a word of why is asked for").max(500),
  confirmedStops: z.number().int().min(0),
  replaces: z.string().max(100).nullable().optional(),
});

export const POST = route(
  "put in force",
  ofFleet,
  { input: { params: byId, body }, answer: answers(z.strictObject({ version: z.number().int() })) },
  async ({ services, actor, params, body: asked }) => ({
    version: await putInForce(services, actor, { id: params.id, ...asked }),
  }),
);
