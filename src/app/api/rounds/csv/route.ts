import { journalQueryOf } from "@/app/journal-query";
import { person, services } from "@/app/services";
import { journalCsv } from "@/services";
import { asText } from "../../answer";

/** What was done, as the address asks for it. */
export function GET(request: Request): Promise<Response> {
  const params = Object.fromEntries(new URL(request.url).searchParams);
  return asText("text/csv; charset=utf-8", () => journalCsv(services(), person(), journalQueryOf(params)));
}
