import { estate, pageQuery, route, textFile } from "@/app/http";
import { journalQueryOf } from "@/app/journal-query";
import { journalCsv } from "@/services/rounds";

/** What was done, as the address asks for it. */
export const GET = route(
  "look",
  estate,
  { input: { query: pageQuery.transform(journalQueryOf) }, answer: textFile("text/csv; charset=utf-8") },
  ({ services, actor, query }) => journalCsv(services, actor, query),
);
