import { z } from "zod";
import { byId, done, estate, noBody, route } from "@/app/http";
import { deleteReport, reportEditSchema, saveReport } from "@/services/report";

const body = z.strictObject({ version: z.number().int(), draft: reportEditSchema });

export const PUT = route(
  "send reports",
  estate,
  { input: { params: byId, body }, answer: done },
  async ({ services, actor, params, body: asked }) => {
    await saveReport(services, actor, { id: params.id, ...asked });
    return {};
  },
);

export const DELETE = route(
  "send reports",
  estate,
  { input: { params: byId, body: noBody }, answer: done },
  async ({ services, actor, params }) => {
    await deleteReport(services, actor, params.id);
    return {};
  },
);
