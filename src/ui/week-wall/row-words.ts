import { formatMinute, type HoursLevel, offSpans, onDuring, type Row, type Span, tryParseSpan } from "@/core/hours";
import type { RowDraft } from "@/core/plan";
import { rowWithSpans, type Sense } from "./geometry";

/** A row's hours as one text: the spans as they are typed, or the times at which it is off. */
export function rowTextOf(
  row: RowDraft,
  checked: Row | null,
  { sense, outside }: { sense: Sense; outside: HoursLevel | null },
): string {
  if (sense === "on" || !checked) return row.spans?.join(", ") ?? "";
  if (checked.spans === "off") return "00:00-24:00";
  return offSpans(checked.spans, outside)
    .map(({ start, end }) => `${formatMinute(start)}-${formatMinute(end)}`)
    .join(", ");
}

export type Typed = Readonly<{ text: string; checked: Row | null; sense: Sense; outside: HoursLevel | null; brush: HoursLevel }>;

/** The row that a text means. What is on is kept as it is typed, right or wrong; what is off has to read first: null until it does. */
export function readRowText(row: RowDraft, { text, checked, sense, outside, brush }: Typed): RowDraft | null {
  const { spans: _, off: __, ...rest } = row;
  const parts = text.split(/\s*,\s*/).filter((part) => part !== "");
  if (sense === "on") return parts.length === 0 ? { ...rest, off: true } : { ...rest, spans: parts };
  const off: Span[] = [];
  for (const part of parts) {
    const result = tryParseSpan(part);
    if (!result.ok) return null;
    off.push(result.span);
  }
  const spans = !checked || checked.spans === "off" ? [] : checked.spans;
  return rowWithSpans(row, onDuring(spans, off, { level: brush, outside }));
}
