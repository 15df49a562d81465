import { AppError } from "@/core/error";

/** A list that has to be whole is longer than is meant for: it is refused, never cut. */
export class ListTooLongError extends AppError {
  readonly code = "list_too_long";
  constructor(what: string, most: number) {
    super(
      `There are more than ${most} ${what}: that is more than one instance is meant for, and a shorter list would tell wrong sums.`,
      { facts: { what, most } },
    );
  }
}

/** The rows of a query with `limit most + 1`, where there are no more than `most`. Throws a ListTooLongError. */
export function whole<T>(rows: readonly T[], { most, what }: Readonly<{ most: number; what: string }>): T[] {
  if (rows.length > most) throw new ListTooLongError(what, most);
  return rows as T[];
}
