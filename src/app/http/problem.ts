import "server-only";
import { AppError } from "@/core/error";
import { log } from "@/log";
import { noRoom, RefusedError } from "@/services/admin";
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

/** What is said of text with a character that is none. */
export const ODD = "There is a character in it that is none. Nothing was changed.";
const NO_DATE = "There is a date or a time in it that is none. Nothing was changed.";

/** What a database says of values that it cannot hold, by its codes. */
const UNFIT: Readonly<Record<string, string>> = {
  "22021": ODD,
  "22P05": ODD,
  "22003": "There is a number in it that is larger than any that is kept. Nothing was changed.",
  "22007": NO_DATE,
  "22008": NO_DATE,
  "22P02": "There is something in it that is not of the kind that is expected. Nothing was changed.",
};

/** An error as it leaves: problem details (RFC 9457), with the code that programs decide by and the fields at fault. */
export function problem(error: unknown): Response {
  if (error instanceof AppError) {
    const { code, message } = error;
    return details(STATUS[code] ?? 409, { code, detail: message, fields: error instanceof RefusedError ? error.fields : [] });
  }
  const unfit = UNFIT[String((error as { code?: unknown } | null)?.code)];
  if (unfit !== undefined) return details(422, { code: "invalid", detail: unfit, fields: [] });
  const full = noRoom(error);
  if (full !== null) {
    log.error({ err: error }, full);
    return details(507, { code: "no_room", detail: `Nothing was changed: ${full}.`, fields: [] });
  }
  log.error({ err: error }, "a request broke");
  return details(500, { code: "broken", detail: "Something broke on the server. Nothing was changed; try again.", fields: [] });
}
