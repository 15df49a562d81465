import type { IncomingMessage, ServerResponse } from "node:http";
import { Refusal } from "../world/refusal";

const BODY_MAX = 64 * 1024;

/** Reads a JSON body of at most 64 KiB; an empty one is an empty object. */
export async function readJson(request: IncomingMessage): Promise<Record<string, unknown>> {
  let text = "";
  for await (const chunk of request) {
    text += chunk;
    if (text.length > BODY_MAX) throw new Refusal(413, "too_large", "the body is larger than 64 KiB");
  }
  if (text === "") return {};
  try {
    const body: unknown = JSON.parse(text);
    if (typeof body === "object" && body !== null && !Array.isArray(body)) return body as Record<string, unknown>;
  } catch {
    // Falls through to the refusal below.
  }
  throw new Refusal(400, "bad_json", "expected a JSON object");
}

export function send(response: ServerResponse, status: number, body: unknown, headers: Record<string, string> = {}): void {
  response.writeHead(status, { "content-type": "application/json", ...headers });
  response.end(JSON.stringify(body));
}
