import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { knownMetrics } from "@/services/idle";

const query = z.object({ like: z.string().max(200).default("") });

/** Metrics that something is known of, whose name has a text in it. */
export const GET = route(
  "look",
  estate,
  { input: { query }, answer: answersWith<typeof knownMetrics>() },
  ({ services, actor, query: { like } }) => knownMetrics(services, actor, like),
);
