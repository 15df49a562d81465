import "server-only";
import type { z } from "zod";
import { AppError } from "@/core/error";
import { RefusedError } from "@/services";

/** By the code of an error; any other conflicts with how things are. */
const STATUS: Readonly<Record<string, number>> = {
  invalid: 422,
  name_taken: 422,
  selector: 422,
  not_found: 404,
  not_allowed: 403,
  provider: 502,
  list_too_long: 507,
};

const BODY_MAX = 1_000_000;

/** Runs a route's work and turns what a person can mend into an answer that says how. */
export async function answer(work: () => Promise<unknown>): Promise<Response> {
  return orProblem(async () => Response.json(await work()));
}

/** The same for a text that is a file to keep or to subscribe to. */
export async function asText(type: string, work: () => Promise<{ file: string; text: string }>): Promise<Response> {
  return orProblem(async () => {
    const { file, text } = await work();
    const disposition = `inline; filename*=UTF-8''${encodeURIComponent(file)}`;
    return new Response(text, {
      headers: { "content-type": type, "content-disposition": disposition, "cache-control": "no-cache" },
    });
  });
}

/** A CSV file that is made while it is sent. What is wrong before the first piece is an answer that says so. */
export async function streamed(file: string, pieces: AsyncGenerator<string>): Promise<Response> {
  return orProblem(async () => {
    const first = await pieces.next();
    const encoder = new TextEncoder();
    const body = new ReadableStream<Uint8Array>({
      start(controller) {
        if (!first.done) controller.enqueue(encoder.encode(first.value));
      },
      async pull(controller) {
        const { done, value } = await pieces.next();
        if (done) controller.close();
        else controller.enqueue(encoder.encode(value));
      },
      cancel: async () => {
        await pieces.return(undefined);
      },
    });
    const disposition = `attachment; filename*=UTF-8''${encodeURIComponent(file)}`;
    return new Response(body, { headers: { "content-type": "text/csv; charset=utf-8", "content-disposition": disposition } });
  });
}

async function orProblem(work: () => Promise<Response>): Promise<Response> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof AppError) {
      const { code, message } = error;
      const fields = error instanceof RefusedError ? error.fields : [];
      return Response.json({ error: { code, message, fields } }, { status: STATUS[code] ?? 409 });
    }
    console.error(error);
    return Response.json(
      { error: { code: "broken", message: "Something broke on the server. Nothing was changed; try again.", fields: [] } },
      { status: 500 },
    );
  }
}

/** Reads and checks a JSON body. Other sites' forms cannot send this type without asking first, and are refused. */
export async function readBody<T extends z.ZodType>(request: Request, schema: T): Promise<z.output<T>> {
  refuseElsewhere(request);
  if (!request.headers.get("content-type")?.startsWith("application/json")) throw new RefusedError("invalid", "Expected JSON.");
  const text = await request.text();
  if (text.length > BODY_MAX) throw new RefusedError("invalid", "That is too much text: at most a million characters.");
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    throw new RefusedError("invalid", "Expected JSON.");
  }
  const result = schema.safeParse(body);
  if (result.success) return result.data;
  const fields = result.error.issues.map(({ path, message }) => ({ path: path.join("."), message }));
  throw new RefusedError("invalid", fields[0]?.message ?? "Not understood.", fields);
}

/** Throws where a page of another site asks. */
export function refuseElsewhere(request: Request): void {
  if (isFromElsewhere(request)) throw new RefusedError("invalid", "Requests from other sites are refused.");
}

/** True where a page of another site asks; an origin that is no address counts as one. */
function isFromElsewhere(request: Request): boolean {
  const origin = request.headers.get("origin");
  if (origin === null) return false;
  return !URL.canParse(origin) || new URL(origin).host !== request.headers.get("host");
}

/** A route's numeric id; refuses anything else. */
export function idOf(text: string): number {
  if (!/^\d{1,9}$/.test(text)) throw new RefusedError("not_found", `There is nothing with the number ${text}.`);
  return Number(text);
}
