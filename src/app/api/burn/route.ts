import { asOne } from "@/app/as-one";
import { burnQueryOf } from "@/app/burn-query";
import { answersWith, estate, pageQuery, route } from "@/app/http";
import { burnPage } from "@/services/cost";

export const GET = route(
  "look",
  estate,
  { input: { query: pageQuery.transform(burnQueryOf) }, answer: answersWith<typeof burnPage>() },
  ({ services, actor, query }) => asOne(`burn ${actor.name} ${JSON.stringify(query)}`, () => burnPage(services, actor, query)),
);
