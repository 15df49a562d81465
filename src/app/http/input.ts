import { z } from "zod";
import { isPlain } from "@/core/text";
import { RefusedError } from "@/services/admin";
import { BODY_BYTES_MAX, BODY_MAX, isKnownHost } from "../doors";
import { ODD } from "./problem";

/** A number in an address; anything else is nothing that there is. */
export const idSchema = z.string().transform((text, context) => {
  if (/^\d{1,9}$/.test(text)) return Number(text);
  context.addIssue({ code: "custom", message: `There is nothing with the number ${text}.`, params: { isMissing: true } });
  return z.NEVER;
});

/** A name in an address, as it was meant. */
export const nameSchema = z.string().transform((text, context) => {
  try {
    return decodeURIComponent(text);
  } catch {
    context.addIssue({ code: "custom", message: "A percent sign there stands for no character." });
    return z.NEVER;
  }
});

/** A body that says nothing: other sites' forms cannot send one of its type. */
export const noBody = z.strictObject({});

/** Checks what came by a schema. Throws a RefusedError with every issue. */
export function checked<T>(schema: z.ZodType<T>, value: unknown): T {
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const { issues } = result.error;
  const fields = issues.map(({ path, message }) => ({ path: path.join("."), message }));
  const isMissing = issues.some((issue) => issue.code === "custom" && issue.params?.isMissing === true);
  throw new RefusedError(isMissing ? "not_found" : "invalid", fields[0]?.message ?? "Not understood.", isMissing ? [] : fields);
}

/** The parameters of an address: a text each, or a list where one is named more than once. */
export function queryOf(request: Request): Record<string, string | string[]> {
  const query = new Map<string, string | string[]>();
  for (const [key, value] of new URL(request.url).searchParams) {
    const before = query.get(key);
    query.set(key, before === undefined ? value : [...(Array.isArray(before) ? before : [before]), value]);
  }
  return Object.fromEntries(query);
}

/** Reads a JSON body. Other sites' forms cannot send this type without asking first, and are refused. */
export async function jsonOf(request: Request): Promise<unknown> {
  if (!request.headers.get("content-type")?.startsWith("application/json")) throw new RefusedError("invalid", "Expected JSON.");
  return parsed(await boundedText(request));
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
