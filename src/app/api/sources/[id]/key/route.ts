import { answersWith, byId, estate, route } from "@/app/http";
import { renewKey } from "@/services/metrics";

/** A new key in the place of the old one; told this once. */
export const POST = route(
  "set up",
  estate,
  { input: { params: byId }, answer: answersWith<typeof renewKey>() },
  ({ services, actor, params }) => renewKey(services, actor, params.id),
);
