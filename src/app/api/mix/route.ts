import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { mixOffers } from "@/services";

/** Where the capacity of what a selector matches could come from, at which prices and dangers. */
export const GET = route(
  "look",
  estate,
  { input: { query: z.object({ select: z.string().default("") }) }, answer: answersWith<typeof mixOffers>() },
  ({ services, actor, query: { select } }) => mixOffers(services, actor, select),
);
