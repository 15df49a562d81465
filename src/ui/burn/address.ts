import type { BurnQuery } from "@/services";

/** The URL that shows a query; what a first visit shows anyway is left out. */
export function burnAddress(query: BurnQuery, change: Partial<BurnQuery> = {}): string {
  const params = burnParams({ ...query, ...change });
  const text = params.toString();
  return text === "" ? "/" : `/?${text}`;
}

export function burnParams(query: BurnQuery): URLSearchParams {
  const params = new URLSearchParams();
  if (query.filter !== "") params.set("filter", query.filter);
  if (query.group !== "none") params.set("group", query.group);
  if (query.sort !== "perHour") params.set("sort", query.sort);
  const isMoney = query.sort === "perHour" || query.sort === "soFar";
  if (query.isDescending !== isMoney) params.set("desc", query.isDescending ? "1" : "0");
  if (query.only !== "all") params.set("only", query.only);
  if (query.opened.length > 0) params.set("open", query.opened.join(","));
  return params;
}
