import { answersWith, byId, estate, noBody, route } from "@/app/http";
import { undoPrices } from "@/services/cost";

/** Takes a file of prices back. */
export const DELETE = route(
  "set prices",
  estate,
  { input: { params: byId, body: noBody }, answer: answersWith<typeof undoPrices>() },
  ({ services, actor, params }) => undoPrices(services, actor, params.id),
);
