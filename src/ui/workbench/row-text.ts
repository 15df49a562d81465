import type { RowDraft } from "@/core/plan";

/** A row's spans as one line of text; nothing of one that is off. */
export function rowText(row: RowDraft): string {
  return row.spans?.join(", ") ?? "";
}
