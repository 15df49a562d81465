import { log } from "@/log";
import "server-only";
import type { z } from "zod";
import { AppError } from "@/core/error";
import { isPlain } from "@/core/text";
import { RefusedError } from "@/services";
import { BODY_BYTES_MAX, BODY_MAX, isKnownHost } from "../doors";

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

/** What a database says of values that it cannot hold, by its codes: text, numbers and dates. */
const UNFIT = new Set(["22021", "22P05", "22003", "22007", "22008", "22P02"]);

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

/** The same for bytes. */
export async function asBytes(work: () => Promise<Uint8Array<ArrayBuffer>>): Promise<Response> {
  return orProblem(
    async () =>
      new Response(await work(), { headers: { "content-type": "application/octet-stream", "cache-control": "no-cache" } }),
  );
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
    if (UNFIT.has(String((error as { code?: unknown }).code)))
      return Response.json({ error: { code: "invalid", message: ODD, fields: [] } }, { status: 422 });
    log.error({ err: error }, "a request broke");
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
  const body = parsed(await boundedText(request));
  const result = schema.safeParse(body);
  if (result.success) return result.data;
  const fields = result.error.issues.map(({ path, message }) => ({ path: path.join("."), message }));
  throw new RefusedError("invalid", fields[0]?.message ?? "Not understood.", fields);
}

/** The body as text, read no further than it may be long. */
async function boundedText(request: Request): Promise<string> {
  const tooLong = () => new RefusedError("invalid", "That is too much text: at most a million characters.");
  if (Number(request.headers.get("content-length") ?? 0) > BODY_BYTES_MAX) throw tooLong();
  const decoder = new TextDecoder();
  let text = "";
  for await (const part of request.body ?? []) {
    text += decoder.decode(part as Uint8Array, { stream: true });
    if (text.length > BODY_MAX) throw tooLong();
  }
  return text + decoder.decode();
}

/** A body as JSON; a text with a character that is none is refused before it meets a database. */
function parsed(text: string): unknown {
  try {
    return JSON.parse(text, (_, value: unknown) => {
      if (typeof value === "string" && !isPlain(value)) throw new RefusedError("invalid", ODD);
      if (typeof value === "object" && value !== null && !Object.keys(value).every(isPlain))
        throw new RefusedError("invalid", ODD);
      return value;
    });
  } catch (error) {
    if (error instanceof RefusedError) throw error;
    throw new RefusedError("invalid", "Expected JSON.");
  }
}

const ODD = "There is a character in it that is none. Nothing was changed.";

/** A part of an address as it was meant. */
export function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    throw new RefusedError("invalid", "A percent sign there stands for no character.");
  }
}

/** Throws where a page of another site asks, or one under a name that is not ours. */
export function refuseElsewhere(request: Request): void {
  if (!isKnownHost(request.headers.get("host"), process.env))
    throw new RefusedError("invalid", "This application is not known under that name.");
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
