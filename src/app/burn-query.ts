import { GROUPINGS, ONLY, SORTS } from "@/core/spend";
import type { BurnQuery } from "@/services";

export const BURN_PAGE = 200;

type Params = Readonly<Record<string, string | string[] | undefined>>;

/** What Burn shows, from its URL. Anything not understood falls back to what a first visit shows. */
export function burnQueryOf(params: Params): BurnQuery {
  const text = (name: string) => (typeof params[name] === "string" ? (params[name] as string) : "");
  const oneOf = <T extends string>(name: string, values: readonly T[], fallback: T): T =>
    values.find((value) => value === text(name)) ?? fallback;
  const number = (name: string, fallback: number, most: number) =>
    /^\d{1,7}$/.test(text(name)) ? Math.min(most, Number(text(name))) : fallback;
  const sort = oneOf("sort", SORTS, "perHour");
  return {
    filter: text("filter").slice(0, 1000),
    group: oneOf("group", GROUPINGS, "none"),
    sort,
    isDescending: text("desc") === "" ? sort === "perHour" || sort === "soFar" : text("desc") === "1",
    only: oneOf("only", ONLY, "all"),
    opened: text("open") === "" ? [] : text("open").split(","),
    offset: number("offset", 0, 10_000_000),
    limit: number("limit", BURN_PAGE, 500),
  };
}
