import { formatSpan, HOURS_OFF, type HoursLevel, ON, offSpans, paintedAt, paintSpans, type Row, type Span } from "@/core/hours";
import type { RowDraft } from "@/core/plan";
import { DAY_MINUTES } from "@/core/time";

/** How many minutes a brick covers: hours, and half and quarter hours when zoomed. */
export const ZOOMS = [60, 30, 15] as const;
export type BrickMinutes = (typeof ZOOMS)[number];

/** Whether the wall is read, painted and typed as what is on, or as what is off. It never changes what is meant. */
export type Sense = "on" | "off";

/** Minutes `[from, to)` of one row. */
export type Stroke = Readonly<{ row: number; from: number; to: number; level: HoursLevel }>;

export type Bar = Readonly<{ left: number; width: number; level: HoursLevel; isTail: boolean }>;

/** A row's bars, from its checked spans: where they stand on the day, in shares of it. */
export function barsOf(spans: readonly Span[]): readonly Bar[] {
  return spans.flatMap((span) => {
    const bars = [
      {
        left: span.start / DAY_MINUTES,
        width: (Math.min(span.end, DAY_MINUTES) - span.start) / DAY_MINUTES,
        level: span.level,
        isTail: false,
      },
    ];
    return span.end > DAY_MINUTES
      ? [...bars, { left: 0, width: (span.end - DAY_MINUTES) / DAY_MINUTES, level: span.level, isTail: true }]
      : bars;
  });
}

/** The same for what is off. */
export function offBarsOf(row: Row, outside: HoursLevel | null): readonly Bar[] {
  return barsOf(row.spans === "off" ? [{ start: 0, end: DAY_MINUTES, level: HOURS_OFF }] : offSpans(row.spans, outside));
}

/** The level a row's own spans give a minute; outside where none does. */
export function levelInRow(row: Row | null, minute: number, outside: HoursLevel | null): HoursLevel | null {
  if (!row) return null;
  return row.spans === "off" ? HOURS_OFF : (paintedAt(row.spans, minute) ?? outside);
}

/** What a press on a brick gives: the brush, or off where the brush is already; the other way round when off is painted. */
export function oppositeOf(level: HoursLevel | null, brush: HoursLevel, sense: Sense): HoursLevel {
  if (sense === "off") return (level ?? 0) > 0 ? HOURS_OFF : brush;
  return (level ?? 0) > 0 && level === brush ? HOURS_OFF : brush;
}

/** The colour of a level: off is shade, on is lit, and deeper the more there is, up to `most`. */
export function levelColour(level: HoursLevel | null, most: number): string {
  if (level === null) return "transparent";
  if (level === 0) return "var(--shade)";
  if (level === ON || most <= 1) return "var(--lit)";
  const depth = Math.round(25 + 75 * (level / most));
  return `color-mix(in oklab, var(--lit-deep) ${depth}%, var(--paper))`;
}

/** A row's text with minutes `[from, to)` painted at a level. A row that does not read stays as it is typed. */
export function paintedRow(
  row: RowDraft,
  checked: Row | null,
  { from, to, level, outside }: { from: number; to: number; level: HoursLevel; outside: HoursLevel | null },
): RowDraft {
  if (!checked) return row;
  const spans = checked.spans === "off" ? [] : checked.spans;
  return rowWithSpans(row, paintSpans(spans, { start: from, end: to, level }, outside));
}

/** A row with other hours; off where there are none. */
export function rowWithSpans(row: RowDraft, spans: readonly Span[]): RowDraft {
  const { spans: _, off: __, ...rest } = row;
  return spans.length === 0 ? { ...rest, off: true } : { ...rest, spans: spans.map(formatSpan) };
}

export function dayLabel({ day }: RowDraft): string {
  return Array.isArray(day) ? day.join(", ") : day;
}
