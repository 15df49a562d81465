import { matcher, type SelectorWarning, selectorWarnings, tryParseSelector } from "@/core/selector";
import type { StoredResource } from "@/store";
import type { BurnPage } from "./query";

/** What filters look at. */
export type Filtered = Pick<StoredResource, "name" | "fields" | "tags" | "fleet">;

export type Filter = Readonly<{
  passes: (resource: Filtered) => boolean;
  error: BurnPage["filterError"];
  warnings: readonly SelectorWarning[];
}>;

/** All filters at once. One that does not parse hides nothing, and says where. */
export function filterOf(texts: readonly string[], running: readonly StoredResource[]): Filter {
  const filters = texts.map((text) => one(text.trim(), running));
  return {
    passes: (resource) => filters.every(({ passes }) => passes(resource)),
    error: filters.find(({ error }) => error)?.error ?? null,
    warnings: filters.flatMap(({ warnings }) => warnings),
  };
}

function one(text: string, running: readonly StoredResource[]): Filter {
  if (text === "") return { passes: () => true, error: null, warnings: [] };
  const result = tryParseSelector(text);
  if (result.ok) return { passes: matcher(result.selector), error: null, warnings: selectorWarnings(result.selector, running) };
  if (/^[\p{L}\p{N}_.-]+$/u.test(text)) {
    const word = text.toLowerCase();
    const passes = ({ name, fields, tags, fleet }: Filtered) =>
      [name, fields.region, fields.account, fields.size, tags.owner, tags.team, fleet].some((value) =>
        value?.toLowerCase().includes(word),
      );
    return { passes, error: null, warnings: [] };
  }
  const { at, message } = result.error;
  return { passes: () => true, error: { filter: text, at, message }, warnings: [] };
}
