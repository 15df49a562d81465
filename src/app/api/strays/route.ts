import { instantOf } from "@/app/burn-query";
import { answersWith, estate, pageQuery, route } from "@/app/http";
import { strayPage } from "@/services/cost";

export const GET = route(
  "look",
  estate,
  { input: { query: pageQuery.transform(instantOf) }, answer: answersWith<typeof strayPage>() },
  ({ services, actor, query }) => strayPage(services, actor, query),
);
