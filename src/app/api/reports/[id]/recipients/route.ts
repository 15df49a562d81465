import { z } from "zod";
import { byId, done, estate, route } from "@/app/http";
import { inviteRecipient } from "@/services/report";

const body = z.strictObject({ address: z.string().max(400), scope: z.string().max(4000) });

export const POST = route(
  "send reports",
  estate,
  { input: { params: byId, body }, answer: done },
  async ({ services, actor, params, body: asked }) => {
    await inviteRecipient(services, actor, { reportId: params.id, ...asked });
    return {};
  },
);
