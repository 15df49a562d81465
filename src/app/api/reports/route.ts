import { z } from "zod";
import { answers, estate, route } from "@/app/http";
import { reportEditSchema, saveReport } from "@/services/report";

const body = z.strictObject({ version: z.number().int(), draft: reportEditSchema });

export const POST = route(
  "send reports",
  estate,
  { input: { body }, answer: answers(z.strictObject({ id: z.number().int() })) },
  async ({ services, actor, body: { draft } }) => ({ id: await saveReport(services, actor, { id: null, version: 0, draft }) }),
);
