/** What goes along from page to page: the instant that is answered as of, and which money is told. */
export type Along = Readonly<{ at: string | null; money: string | null }>;

/** An address within the application that keeps what goes along. One that says its own keeps that. */
export function atAddress(href: string, { at, money }: Along): string {
  if (at === null && money === null) return href;
  const [path = "", query = ""] = href.split("?");
  const params = new URLSearchParams(query);
  if (at !== null && !params.has("at")) params.set("at", at);
  if (money !== null && !params.has("money")) params.set("money", money);
  return `${path}?${params}`;
}

/** The same address without an instant: as of now. */
export function nowAddress(href: string): string {
  const [path = "", query = ""] = href.split("?");
  const params = new URLSearchParams(query);
  params.delete("at");
  const rest = params.toString();
  return rest === "" ? path : `${path}?${rest}`;
}
