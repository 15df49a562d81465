import type { Level } from "@/core/hours";
import { formatSpan, paintSpans, type Row, type Span } from "@/core/hours";
import type { RowDraft } from "@/core/plan";

/** Bricks are half hours: 48 a day. */
export const BRICK_MINUTES = 30;
export const BRICKS = 48;

/** A row's bars, from its checked spans: where they stand on the day, in shares of it. */
export function barsOf(spans: readonly Span[]): readonly { left: number; width: number; level: Level; isTail: boolean }[] {
  return spans.flatMap((span) => {
    const bars = [
      { left: span.start / 1440, width: (Math.min(span.end, 1440) - span.start) / 1440, level: span.level, isTail: false },
    ];
    return span.end > 1440 ? [...bars, { left: 0, width: (span.end - 1440) / 1440, level: span.level, isTail: true }] : bars;
  });
}

/** The colour of a level: off is shade, on is lit, and deeper the more there is, up to `most`. */
export function levelColour(level: Level | null, most: number): string {
  if (level === null) return "transparent";
  if (level === 0) return "var(--shade)";
  if (most <= 1) return "var(--lit)";
  const depth = Math.round(25 + 75 * (level / most));
  return `color-mix(in oklab, var(--lit-deep) ${depth}%, var(--paper))`;
}

/** A row's text with bricks `[from, to]` painted at a level. A row that does not read stays as it is typed. */
export function paintedRow(
  row: RowDraft,
  checked: Row | null,
  { from, to, level, outside }: { from: number; to: number; level: Level; outside: Level | null },
): RowDraft {
  if (!checked) return row;
  const spans = checked.spans === "off" ? [] : checked.spans;
  const first = Math.min(from, to) * BRICK_MINUTES;
  const last = (Math.max(from, to) + 1) * BRICK_MINUTES;
  const next = paintSpans(spans, { start: first, end: last, level }, outside);
  const { spans: _, off: __, ...rest } = row;
  return next.length === 0 ? { ...rest, off: true } : { ...rest, spans: next.map(formatSpan) };
}
