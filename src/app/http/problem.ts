import "server-only";
import { AppError } from "@/core/error";
import { log } from "@/log";
import { RefusedError } from "@/services/admin";
import { details } from "./details";

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

/** What is said of text with a character that is none. */
export const ODD = "There is a character in it that is none. Nothing was changed.";

/** An error as it leaves: problem details (RFC 9457), with the code that programs decide by and the fields at fault. */
export function problem(error: unknown): Response {
  if (error instanceof AppError) {
    const { code, message } = error;
    return details(STATUS[code] ?? 409, { code, detail: message, fields: error instanceof RefusedError ? error.fields : [] });
  }
  if (UNFIT.has(String((error as { code?: unknown } | null)?.code)))
    return details(422, { code: "invalid", detail: ODD, fields: [] });
  log.error({ err: error }, "a request broke");
  return details(500, { code: "broken", detail: "Something broke on the server. Nothing was changed; try again.", fields: [] });
}
