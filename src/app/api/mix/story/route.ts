import { z } from "zod";
import { answersWith, route } from "@/app/http";
import { mixStory } from "@/services/mix";

const HOURS = 28 * 24;

/** What a fleet's mix has now, and what it lost over the last four weeks. */
export const GET = route(
  "look",
  ({ query: { fleet } }) => ({ kind: "fleet", fleet }),
  { input: { query: z.object({ fleet: z.string().default("") }) }, answer: answersWith<typeof mixStory>() },
  ({ services, actor, query: { fleet } }) => mixStory(services, actor, { fleet, hours: HOURS }),
);
