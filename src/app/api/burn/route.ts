import { burnQueryOf } from "@/app/burn-query";
import { coalesce } from "@/app/coalesce";
import { answersWith, estate, pageQuery, route } from "@/app/http";
import { burnPage } from "@/services/cost";

export const GET = route(
  "look",
  estate,
  { input: { query: pageQuery.transform(burnQueryOf) }, answer: answersWith<typeof burnPage>() },
  ({ services, actor, query }) => coalesce(`burn ${actor.name} ${JSON.stringify(query)}`, () => burnPage(services, actor, query)),
);
