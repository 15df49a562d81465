import { OUTCOMES } from "@/core/rounds";
import { tryParseInstant } from "@/core/time";
import type { JournalQuery } from "@/services/rounds";

type Params = Readonly<Record<string, string | string[] | undefined>>;

/** What is searched for in the journal, from its URL; what is not understood is left out. */
export function journalQueryOf(params: Params): JournalQuery {
  const text = (name: string) => [params[name]].flat()[0] ?? "";
  return {
    text: text("search").slice(0, 200),
    outcome: OUTCOMES.find((one) => one === text("outcome")) ?? "",
    from: tryParseInstant(text("from")),
    to: tryParseInstant(text("to")),
    before: /^\d{1,9}$/.test(text("action")) ? Number(text("action")) : null,
  };
}
