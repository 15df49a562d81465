import { z } from "zod";
import { answers, answersWith, byId, ofFleet, route } from "@/app/http";
import { fleetDraftSchema } from "@/core/plan";
import { keepDraft, storedDraft } from "@/services/plans";

const body = z.strictObject({
  draft: fleetDraftSchema,
  version: z.number().int(),
  /** Which page writes, and its own count of its writes. */
  editor: z.string().min(1).max(80),
  write: z.number().int().min(0),
});

/** The draft as it is stored. */
export const GET = route(
  "look",
  ofFleet,
  { input: { params: byId }, answer: answersWith<typeof storedDraft>() },
  ({ services, actor, params }) => storedDraft(services, actor, params.id),
);

export const PUT = route(
  "edit plans",
  ofFleet,
  { input: { params: byId, body }, answer: answers(z.strictObject({ version: z.number().int() })) },
  async ({ services, actor, params, body: { draft, version, editor, write } }) => ({
    version: await keepDraft(services, actor, { id: params.id, draft, version, by: { editor, write } }),
  }),
);
