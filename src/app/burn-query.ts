import type { MoneyView } from "@/core/pricing";
import { isGrouping, ONLY, SORTS } from "@/core/spend";
import { tryParseInstant } from "@/core/time";
import type { BurnQuery } from "@/services/cost";

export const BURN_PAGE = 200;
const FILTERS_MAX = 12;

type Params = Readonly<Record<string, string | string[] | undefined>>;

/** A URL's parameters as Next hands them to a page. */
export function paramsOf(search: URLSearchParams): Params {
  return Object.fromEntries([...new Set(search.keys())].map((name) => [name, search.getAll(name)]));
}

/** The instant that the application is asked to answer as of; null for now. */
export function instantOf(params: Params): number | null {
  return tryParseInstant(firstOf(params.at));
}

/** Money after commitments, unless the address says before. */
export function viewOf(params: Params): MoneyView {
  return firstOf(params.money) === "before" ? "before" : "after";
}

function firstOf(value: string | string[] | undefined): string {
  return (Array.isArray(value) ? value[0] : value) ?? "";
}

/** What Burn shows, from its URL. Anything not understood falls back to what a first visit shows. */
export function burnQueryOf(params: Params): BurnQuery {
  const text = (name: string) => firstOf(params[name]);
  const oneOf = <T extends string>(name: string, values: readonly T[], fallback: T): T =>
    values.find((value) => value === text(name)) ?? fallback;
  const number = (name: string, fallback: number, most: number) =>
    /^\d{1,7}$/.test(text(name)) ? Math.min(most, Number(text(name))) : fallback;
  const sort = oneOf("sort", SORTS, "perHour");
  const group = text("group");
  return {
    filters: [params.filter ?? []]
      .flat()
      .slice(0, FILTERS_MAX)
      .map((filter) => filter.trim().slice(0, 1000))
      .filter((filter) => filter !== ""),
    group: isGrouping(group) ? group : "none",
    sort,
    isDescending: text("desc") === "" ? isMoney(sort) : text("desc") === "1",
    only: oneOf("only", ONLY, "all"),
    opened: text("open") === "" ? [] : text("open").split(","),
    offset: number("offset", 0, 10_000_000),
    limit: number("limit", BURN_PAGE, 500),
    at: instantOf(params),
    view: viewOf(params),
  };
}

function isMoney(sort: BurnQuery["sort"]): boolean {
  return sort === "perHour" || sort === "soFar" || sort === "month";
}
