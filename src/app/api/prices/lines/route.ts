import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { priceLines } from "@/services/cost";

const query = z.object({
  key: z.string().default(""),
  before: z
    .string()
    .optional()
    .transform((text) => (text === undefined ? null : Number(text))),
});

/** What was said of one price, page by page. */
export const GET = route(
  "look",
  estate,
  { input: { query }, answer: answersWith<typeof priceLines>() },
  ({ services, actor, query: asked }) => priceLines(services, actor, asked),
);
