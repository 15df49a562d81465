const TITLES: Readonly<Record<number, string>> = {
  400: "Not readable",
  403: "Not allowed",
  404: "Not found",
  409: "In conflict with how things are",
  413: "Too long",
  421: "Not known under that name",
  422: "Not understood",
  500: "Broken",
  502: "The provider refused",
  507: "Too much",
};

type Details = Readonly<{ code: string; detail: string; fields: readonly Readonly<{ path: string; message: string }>[] }>;

/** Problem details (RFC 9457): what is wrong in words, with a code that programs decide by and the fields at fault. */
export function details(status: number, more: Details, headers: Readonly<Record<string, string>> = {}): Response {
  // `about:blank`: the status says of what type it is, as the standard has it.
  const body = { type: "about:blank", title: TITLES[status] ?? "Refused", status, ...more };
  return new Response(JSON.stringify(body), { status, headers: { ...headers, "content-type": "application/problem+json" } });
}
