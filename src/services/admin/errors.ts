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
