import { z } from "zod";
import { person, services } from "@/app/services";
import { mixSchema } from "@/core/mix";
import { endStudyEarly, startStudy, studyOf } from "@/services";
import { answer, readBody } from "../../answer";

const DAYS_MAX = 366;
const TRIALS_MAX = 10_000;
const bodySchema = z.union([
  z.strictObject({
    fleet: z.string().min(1).max(80),
    mix: mixSchema,
    days: z.number().int().min(1).max(DAYS_MAX),
    trials: z.number().int().min(1).max(TRIALS_MAX),
  }),
  z.strictObject({ cancel: z.number().int().positive() }),
]);

/** The last study of a fleet's mix, and how far it is. */
export function GET(request: Request): Promise<Response> {
  const fleet = new URL(request.url).searchParams.get("fleet") ?? "";
  return answer(() => studyOf(services(), person(), fleet));
}

/** Starts a study, or ends one. */
export function POST(request: Request): Promise<Response> {
  return answer(async () => {
    const asked = await readBody(request, bodySchema);
    if ("cancel" in asked) {
      await endStudyEarly(services(), person(), asked.cancel);
      return {};
    }
    return { id: await startStudy(services(), person(), asked) };
  });
}
