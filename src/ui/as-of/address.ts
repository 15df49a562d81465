/** An address within the application as of an instant (`2027-03-28T00:30:00Z`), or as of now. One that names its own instant keeps it. */
export function atAddress(href: string, at: string | null): string {
  if (at === null) return href;
  const [path = "", query = ""] = href.split("?");
  const params = new URLSearchParams(query);
  if (!params.has("at")) params.set("at", at);
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
