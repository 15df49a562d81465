import { z } from "zod";
import { answers, answersWith, estate, route } from "@/app/http";
import { mixSchema } from "@/core/mix";
import { endStudyEarly, startStudy, studyOf } from "@/services/mix";

const DAYS_MAX = 366;
const TRIALS_MAX = 10_000;
const body = z.union([
  z.strictObject({
    fleet: z.string().min(1).max(80),
    mix: mixSchema,
    days: z.number().int().min(1).max(DAYS_MAX),
    trials: z.number().int().min(1).max(TRIALS_MAX),
  }),
  z.strictObject({ cancel: z.number().int().positive() }),
]);

/** The last study of a fleet's mix, and how far it is. */
export const GET = route(
  "look",
  ({ query: { fleet } }) => ({ kind: "fleet", fleet }),
  { input: { query: z.object({ fleet: z.string().default("") }) }, answer: answersWith<typeof studyOf>() },
  ({ services, actor, query: { fleet } }) => studyOf(services, actor, fleet),
);

/** Starts a study, or ends one. */
export const POST = route(
  "edit plans",
  ({ body: asked }) => ("cancel" in asked ? estate() : { kind: "fleet", fleet: asked.fleet }),
  { input: { body }, answer: answers(z.strictObject({ id: z.number().int().optional() })) },
  async ({ services, actor, body: asked }) => {
    if (!("cancel" in asked)) return { id: await startStudy(services, actor, asked) };
    await endStudyEarly(services, actor, asked.cancel);
    return {};
  },
);
