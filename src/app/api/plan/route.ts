import { z } from "zod";
import { answersWith, asItIs, estate, route, textFile } from "@/app/http";
import { exportPlan, importPlan } from "@/services/plans";

const query = z.object({ format: z.enum(["yaml", "json"]).catch("yaml") });
const body = z.strictObject({ text: z.string(), confirmedStops: z.number().int().min(0) });

/** The whole plan as a file: YAML, or JSON with `?format=json`. */
export const GET = route("look", estate, { input: { query }, answer: asItIs }, async ({ services, actor, query: { format } }) =>
  textFile(`application/${format}`).send({
    file: `umbrik-plan.${format}`,
    text: await exportPlan(services, actor, format),
  }),
);

export const POST = route(
  "put in force",
  estate,
  { input: { body }, answer: answersWith<typeof importPlan>() },
  ({ services, actor, body: asked }) => importPlan(services, actor, asked),
);
