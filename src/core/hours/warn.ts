import { DAY_S, type Instant, MINUTE_S } from "../time/instant";
import { localTime } from "../time/zone";
import type { Warning } from "../warning";
import type { CompiledSchedule } from "./compile";
import { expand } from "./expand";
import { dayKeyLabel, type Row } from "./schedule";
import { formatSpan, type Span } from "./span";

/** What is odd about a schedule, as facts; `row` is the row's place. */
export type ScheduleWarning =
  /** Two spans of a row cover the same minutes: the later one counts there. */
  | Warning<"overlap", { row: number; label: string; first: string; second: string }>
  /** A row that speaks on no day of the coming two years; `isPast`: its dates are over. */
  | Warning<"never", { row: number; label: string; isPast: boolean }>
  | Warning<"never on">
  /** Off for a shorter time than the lead: the stop never happens. */
  | Warning<"short gap", { gapMinutes: number; at: Instant }>;

const YEARS_DAYS = 2 * 366;
const GAP_DAYS = 35;

/** Looks for what is odd from `from` on. Levels against machines, and use, are for the caller to judge. */
export function scheduleWarnings(
  compiled: CompiledSchedule,
  { from, leadMinutes }: { from: Instant; leadMinutes: number },
): readonly ScheduleWarning[] {
  const { rows, zone } = compiled.schedule;
  const today = localTime(zone, from).day;
  const spoken = new Set<number>();
  for (let day = today - 1; day < today + YEARS_DAYS; day++) spoken.add(compiled.rowOf(day));
  const warnings: ScheduleWarning[] = [];
  rows.forEach((row, i) => {
    const label = dayKeyLabel(row.day);
    const pair = overlap(row);
    if (pair) warnings.push({ code: "overlap", row: i, label, first: formatSpan(pair[0]), second: formatSpan(pair[1]) });
    if (!spoken.has(i)) {
      const isPast = row.day.kind === "dates" && Date.parse(row.day.to) / 1000 < (today - 1) * DAY_S;
      warnings.push({ code: "never", row: i, label, isPast });
    }
  });
  const year = expand(compiled, from, from + 366 * DAY_S);
  if (year.every(({ level }) => level === 0)) warnings.push({ code: "never on" });
  const gap = leadMinutes > 0 ? shortGap(compiled, { from, leadMinutes }) : null;
  if (gap) warnings.push(gap);
  return warnings;
}

function overlap({ spans }: Row): readonly [Span, Span] | null {
  if (spans === "off") return null;
  for (const [i, second] of spans.entries()) {
    const first = spans.slice(0, i).find((span) => span.start < second.end && second.start < span.end);
    if (first) return [first, second];
  }
  return null;
}

type Gaps = Readonly<{ from: Instant; leadMinutes: number }>;

/** The first stretch between two higher levels that is over before its lead begins. */
function shortGap(compiled: CompiledSchedule, { from, leadMinutes }: Gaps): ScheduleWarning | null {
  const intervals = expand(compiled, from, from + GAP_DAYS * DAY_S);
  for (let i = 1; i + 1 < intervals.length; i++) {
    const [before, gap, after] = intervals.slice(i - 1, i + 2);
    if (!before || !gap || !after) continue;
    const isGap = (before.level ?? 0) > (gap.level ?? 0) && (after.level ?? 0) > (gap.level ?? 0);
    const gapMinutes = (gap.to - gap.from) / MINUTE_S;
    if (isGap && gapMinutes <= leadMinutes) return { code: "short gap", gapMinutes, at: gap.from };
  }
  return null;
}
