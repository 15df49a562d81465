import { byId, done, estate, noBody, route } from "@/app/http";
import { dropCommitment } from "@/services/cost";

export const DELETE = route(
  "set prices",
  estate,
  { input: { params: byId, body: noBody }, answer: done },
  async ({ services, actor, params }) => {
    await dropCommitment(services, actor, params.id);
    return {};
  },
);
