import {
  formatMinute,
  type HoursLevel,
  type Meaning,
  meaningsOf,
  offSpans,
  onDuring,
  type Row,
  type Span,
  tryParseSpan,
} from "@/core/hours";
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

const partsOf = (text: string) => text.split(/\s*[,;]\s*/).filter((part) => part !== "");

/** A part as a plan file writes it, where it means one thing; as it is typed otherwise. */
function tidied(part: string): string {
  const [meaning, other] = meaningsOf(part);
  return meaning && !other ? meaning.text : part;
}

/**
 * What to choose from where a text has a span that may mean two things; each choice is the whole text with it. What
 * stands there in full already is only asked about while it is typed.
 */
export function choicesIn(text: string, isTyping: boolean): readonly Meaning[] {
  const parts = partsOf(text);
  const at = parts.findIndex((part) => meaningsOf(part).length > 1 && (isTyping || !tryParseSpan(part).ok));
  if (at < 0) return [];
  return meaningsOf(parts[at] ?? "").map(({ text: meant, words }) => ({ text: parts.with(at, meant).join(", "), words }));
}

/** The row that a text means. What is on is kept, tidied where it reads; what is off has to read first: null until it does. */
export function readRowText(row: RowDraft, { text, checked, sense, outside, brush }: Typed): RowDraft | null {
  const { spans: _, off: __, ...rest } = row;
  const isOff = text.trim().toLowerCase() === "off";
  const parts = isOff && sense === "on" ? [] : partsOf(text).map(tidied);
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
