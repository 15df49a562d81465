import { formatInstant } from "@/core/time";
import type { BurnQuery } from "@/services/cost";

/** How many lines are asked for at a time: what a window of usual size shows, and some more. */
export const BURN_LINES = 32;

/** The URL that shows a query; what a first visit shows anyway is left out. */
export function burnAddress(query: BurnQuery, change: Partial<BurnQuery> = {}): string {
  const params = burnParams({ ...query, ...change });
  const text = params.toString();
  return text === "" ? "/" : `/?${text}`;
}

export function burnParams(query: BurnQuery): URLSearchParams {
  const params = new URLSearchParams();
  for (const filter of query.filters) params.append("filter", filter);
  if (query.group !== "none") params.set("group", query.group);
  if (query.sort !== "perHour") params.set("sort", query.sort);
  if (query.isDescending !== isMoneySort(query.sort)) params.set("desc", query.isDescending ? "1" : "0");
  if (query.only !== "all") params.set("only", query.only);
  if (query.opened.length > 0) params.set("open", query.opened.join(","));
  if (query.view === "before") params.set("money", "before");
  if (query.at !== null) params.set("at", formatInstant(query.at));
  return params;
}

/** Money is sorted from the most down at first. */
export function isMoneySort(sort: BurnQuery["sort"]): boolean {
  return sort === "perHour" || sort === "soFar" || sort === "month";
}
