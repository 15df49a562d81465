import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { holidaysOfCountry } from "@/services/plans";

/** A country's public holidays of this year and the next. */
export const GET = route(
  "look",
  estate,
  { input: { params: z.strictObject({ code: z.string() }) }, answer: answersWith<typeof holidaysOfCountry>() },
  ({ services, actor, params }) => holidaysOfCountry(services, actor, params.code),
);
