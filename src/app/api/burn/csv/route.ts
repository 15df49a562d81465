import { burnQueryOf } from "@/app/burn-query";
import { estate, pageQuery, route, textFile } from "@/app/http";
import { burnCsv } from "@/services/cost";

export const GET = route(
  "look",
  estate,
  { input: { query: pageQuery.transform(burnQueryOf) }, answer: textFile("text/csv; charset=utf-8") },
  ({ services, actor, query }) => burnCsv(services, actor, query),
);
