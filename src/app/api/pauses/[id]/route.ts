import { answersWith, byId, estate, route } from "@/app/http";
import { pauses, resumeRounds } from "@/services/rounds";

/** Ends a pause: rounds go on. */
export const DELETE = route(
  "pause rounds",
  estate,
  { input: { params: byId }, answer: answersWith<typeof pauses>() },
  async ({ services, actor, params }) => {
    await resumeRounds(services, actor, params.id);
    return pauses(services, actor);
  },
);
