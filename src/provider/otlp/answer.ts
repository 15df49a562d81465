import { RESPONSE, STATUS } from "./schema";

const PROTOBUF = "application/x-protobuf";

/** The protocol's answer to a request that was taken, whole or in part. */
export function taken({ refused, why }: Readonly<{ refused: number; why: string | null }>, isJson: boolean): Response {
  const partialSuccess = refused === 0 && why === null ? undefined : { rejectedDataPoints: refused, errorMessage: why ?? "" };
  const message = partialSuccess ? { partialSuccess } : {};
  if (isJson) {
    const text = partialSuccess ? { partialSuccess: { ...partialSuccess, rejectedDataPoints: String(refused) } } : {};
    return Response.json(text);
  }
  return bytes(RESPONSE.encode(RESPONSE.fromObject(message)).finish(), 200);
}

/** Codes of google.rpc.Status, by HTTP status. */
const CODES: Readonly<Record<number, number>> = { 400: 3, 401: 16, 403: 7, 413: 11, 415: 3, 429: 8, 503: 14 };

/** The protocol's answer to one that was not; 429 and 503 say when to come again. */
export function refusedWith(status: number, message: string, isJson: boolean): Response {
  const body = { code: CODES[status] ?? 2, message };
  const again: Record<string, string> = status === 429 || status === 503 ? { "retry-after": "30" } : {};
  return isJson
    ? Response.json(body, { status, headers: again })
    : bytes(STATUS.encode(STATUS.fromObject(body)).finish(), status, again);
}

function bytes(body: Uint8Array, status: number, headers: Readonly<Record<string, string>> = {}): Response {
  return new Response(new Uint8Array(body), { status, headers: { "content-type": PROTOBUF, ...headers } });
}
