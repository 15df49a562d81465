import { z } from "zod";
import { answers, byId, noBody, ofFleet, route } from "@/app/http";
import { copyFleet } from "@/services/plans";

export const POST = route(
  "edit plans",
  ofFleet,
  { input: { params: byId, body: noBody }, answer: answers(z.strictObject({ id: z.number().int() })) },
  async ({ services, actor, params }) => ({ id: await copyFleet(services, actor, params.id) }),
);
