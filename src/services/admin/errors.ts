import { AppError } from "@/core/error";

/** Something a person asked for cannot be done as things are; the message says what is wrong, what was kept and what to do. */
export class RefusedError extends AppError {
  constructor(
    readonly code: "not_found" | "name_taken" | "changed_since" | "invalid" | "count_differs" | "busy",
    message: string,
    /** The fields at fault, by path. */
    readonly fields: readonly FieldIssue[] = [],
  ) {
    super(message, { facts: { fields } });
  }
}

export type FieldIssue = Readonly<{ path: string; message: string }>;

export { ProviderError } from "@/provider";

/** What PostgreSQL says by its codes where it has no room for anything more. */
const NO_ROOM: Readonly<Record<string, string>> = {
  "53100": "the database's disk is full",
  "53200": "the database has no memory left",
};

/** That the database has no room for what was to be written; null where that is not what is wrong. */
export function noRoom(error: unknown): string | null {
  return NO_ROOM[String((error as { code?: unknown } | null)?.code)] ?? null;
}

/** What went wrong, as it is kept and shown. */
export function reasonOf(error: unknown): string {
  return noRoom(error) ?? (error instanceof Error ? error.message : String(error));
}
