import { byId, done, estate, noBody, route } from "@/app/http";
import { dropRecipient } from "@/services/report";

export const DELETE = route(
  "send reports",
  estate,
  { input: { params: byId, body: noBody }, answer: done },
  async ({ services, actor, params }) => {
    await dropRecipient(services, actor, params.id);
    return {};
  },
);
