import { z } from "zod";
import { answersWith, byId, ofFleet, route } from "@/app/http";
import { fleetDraftSchema } from "@/core/plan";
import { previewInForce } from "@/services/plans";

export const POST = route(
  "look",
  ofFleet,
  { input: { params: byId, body: z.strictObject({ draft: fleetDraftSchema }) }, answer: answersWith<typeof previewInForce>() },
  ({ services, actor, body }) => previewInForce(services, actor, body.draft),
);
