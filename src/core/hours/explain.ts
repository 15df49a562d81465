import { formatDate } from "../time/date";
import { DAY_S, type Instant, MINUTE_S } from "../time/instant";
import { localTime } from "../time/zone";
import { type CompiledSchedule, OUTSIDE, whyRow } from "./compile";
import { levelAt } from "./expand";
import type { Level } from "./level";
import { dayKeyLabel } from "./schedule";

export type Considered = Readonly<{ rule: string; applies: boolean; why: string }>;

export type Explanation = Readonly<{
  level: Level | null;
  /** The wall clock with its offset, `YYYY-MM-DDTHH:MM:SS±HH:MM`. */
  local: string;
  because: string;
  considered: readonly Considered[];
}>;

/** The level at `t`, of a machine, with every row that was considered, in order, and why it did or did not decide. */
export function explain(compiled: CompiledSchedule, t: Instant): Explanation {
  const { level, because } = levelAt(compiled, t);
  const { day, second, offset } = localTime(compiled.schedule.zone, t);
  const minute = Math.floor(second / MINUTE_S);
  const speaking = compiled.rowOf(day);
  const before = compiled.rowOf(day - 1);
  const considered: Considered[] = compiled.schedule.rows.map((row, i) => {
    const rule = dayKeyLabel(row.day);
    const { applies, why } = whyRow(compiled, row, day);
    const tail = i === before && row.spans !== "off" && row.spans.some((span) => span.end - DAY_S / MINUTE_S > minute);
    if (i === speaking) return { rule, applies: true, why: `${why}; the most specific row for this date` };
    if (tail) return { rule, applies: because === rule, why: `runs past midnight from ${formatDate(day - 1)}` };
    return { rule, applies: false, why: applies ? `${why}, but a more specific or later row speaks` : why };
  });
  considered.push({
    rule: OUTSIDE,
    applies: because === OUTSIDE,
    why: because === OUTSIDE ? "no span covers this minute" : `${because} covers this minute`,
  });
  return { level, local: formatLocal(day, second, offset), because, considered };
}

function formatLocal(day: number, second: number, offset: number): string {
  const two = (value: number) => String(value).padStart(2, "0");
  const clock = `${two(Math.floor(second / 3600))}:${two(Math.floor(second / 60) % 60)}:${two(second % 60)}`;
  const minutes = Math.floor(Math.abs(offset) / 60);
  return `${formatDate(day)}T${clock}${offset < 0 ? "-" : "+"}${two(Math.floor(minutes / 60))}:${two(minutes % 60)}`;
}
