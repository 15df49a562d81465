import { z } from "zod";
import { byId, done, ofFleet, route } from "@/app/http";
import { renameFleet } from "@/services/plans";

const body = z.strictObject({ name: z.string().max(200), version: z.number().int() });

export const PUT = route(
  "edit plans",
  ofFleet,
  { input: { params: byId, body }, answer: done },
  async ({ services, actor, params, body: asked }) => {
    await renameFleet(services, actor, { id: params.id, ...asked });
    return {};
  },
);
