import { byId, done, estate, noBody, route } from "@/app/http";
import { dropDiscount } from "@/services/cost";

export const DELETE = route(
  "set prices",
  estate,
  { input: { params: byId, body: noBody }, answer: done },
  async ({ services, actor, params }) => {
    await dropDiscount(services, actor, params.id);
    return {};
  },
);
