import { byId, done, estate, noBody, route } from "@/app/http";
import { retryMail } from "@/services/report";

export const POST = route(
  "send reports",
  estate,
  { input: { params: byId, body: noBody }, answer: done },
  async ({ services, actor, params }) => {
    await retryMail(services, actor, params.id);
    return {};
  },
);
