import { z } from "zod";
import { answers, byId, estate, noBody, route } from "@/app/http";
import { resumeAlarms } from "@/services/idle";

/** Ends a pause before its time. */
export const DELETE = route(
  "hold",
  estate,
  { input: { params: byId, body: noBody }, answer: answers(z.strictObject({ resumed: z.number().int() })) },
  async ({ services, actor, params }) => {
    await resumeAlarms(services, actor, params.id);
    return { resumed: params.id };
  },
);
