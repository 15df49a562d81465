import { z } from "zod";
import { answersWith, estate, idSchema, route } from "@/app/http";
import { mixOffers } from "@/services/mix";

const query = z.object({ select: z.string().default(""), fleet: idSchema.nullable().default(null) });

/** Where the capacity of what a selector matches could come from, at which prices and dangers. */
export const GET = route(
  "look",
  estate,
  { input: { query }, answer: answersWith<typeof mixOffers>() },
  ({ services, actor, query: { select: selector, fleet: fleetId } }) => mixOffers(services, actor, { selector, fleetId }),
);
