import { z } from "zod";
import { answersWith, estate, route, textFile } from "@/app/http";
import { importPrices, pricesCsv } from "@/services/cost";

export const GET = route("look", estate, { input: {}, answer: textFile("text/csv; charset=utf-8") }, ({ services, actor }) =>
  pricesCsv(services, actor, null),
);

export const POST = route(
  "set prices",
  estate,
  {
    input: { body: z.strictObject({ text: z.string(), isTrial: z.boolean().optional() }) },
    answer: answersWith<typeof importPrices>(),
  },
  ({ services, actor, body }) => importPrices(services, actor, body),
);
