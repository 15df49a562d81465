import { findQueryOf } from "@/app/find-query";
import { answersWith, estate, pageQuery, route } from "@/app/http";
import { findResources } from "@/services/inventory";

/** As many as the box that searches shows. */
const SHOWN = 12;

export const GET = route(
  "look",
  estate,
  { input: { query: pageQuery.transform((query) => findQueryOf(query, SHOWN)) }, answer: answersWith<typeof findResources>() },
  ({ services, actor, query }) => findResources(services, actor, query),
);
