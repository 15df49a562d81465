import { type NextRequest, NextResponse } from "next/server";
import { BODY_BYTES_MAX, isKnownHost, policyFor, SAFE_HEADERS } from "./app/doors";
import { details } from "./app/http/details";

/**
 * What every request passes: the name it was asked under must be one of ours (a page elsewhere may point its
 * own name here), an address must be readable, a body may be only so long, and each page says what it may load.
 */
export function proxy(request: NextRequest): Response {
  if (!isKnownHost(request.headers.get("host"), process.env)) {
    return refused(421, "This application is not known under that name. UMBRIK_URL says under which it is.");
  }
  if (!isReadable(request.url)) return refused(400, "That address cannot be read: a percent sign in it stands for no character.");
  if (Number(request.headers.get("content-length") ?? 0) > BODY_BYTES_MAX)
    return refused(413, "That is too much text: at most a million characters.");
  const nonce = btoa(crypto.randomUUID());
  const policy = policyFor(nonce);
  const headers = new Headers(request.headers);
  headers.set("content-security-policy", policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set("content-security-policy", policy);
  for (const [name, value] of SAFE_HEADERS) response.headers.set(name, value);
  return response;
}

// A file that is uploaded and metrics that are pushed go past: they would be held in memory here. Their routes look at the name, and at the key.
export const config = { matcher: ["/((?!_next/static|_next/image|api/usage/imports|v1/metrics).*)"] };

function refused(status: number, detail: string): Response {
  return details(status, { code: "invalid", detail, fields: [] }, Object.fromEntries(SAFE_HEADERS));
}

/** True where every percent sign stands for a character, and none of them for NUL. */
function isReadable(url: string): boolean {
  try {
    return !decodeURIComponent(url.replaceAll("+", " ")).includes("\0");
  } catch {
    return false;
  }
}
