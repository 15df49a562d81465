import { z } from "zod";
import { byId, done, ofFleet, route } from "@/app/http";
import { setBasis } from "@/services/plans";

const body = z.strictObject({ basis: z.strictObject({ from: z.string(), to: z.string() }).nullable() });

export const PUT = route(
  "edit plans",
  ofFleet,
  { input: { params: byId, body }, answer: done },
  async ({ services, actor, params, body: { basis } }) => {
    await setBasis(services, actor, { id: params.id, basis });
    return {};
  },
);
