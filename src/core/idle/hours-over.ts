import { type CompiledSchedule, expandWithLead, type Level } from "../hours";
import { type Instant, MINUTE_S } from "../time";
import type { HoursOver } from "./machine";

/**
 * The hours of a resource over `[from, to]`, moved by the lead. A rise is an instant at which the level is above what it
 * was just before; leave counts as 0 there.
 */
export function hoursOver(
  compiled: CompiledSchedule,
  { from, to, leadMinutes, ownSize }: Readonly<{ from: Instant; to: Instant; leadMinutes: number; ownSize: Level }>,
): HoursOver {
  const spans: { from: Instant; to: Instant; level: Level | null }[] = [];
  for (const span of expandWithLead(compiled, { from, to: to + 1, leadS: leadMinutes * MINUTE_S, ownSize })) {
    const last = spans.at(-1);
    if (last && last.level === span.level) last.to = span.to;
    else spans.push({ from: span.from, to: span.to, level: span.level });
  }
  const rises = spans.flatMap((span, i) => (i > 0 && (span.level ?? 0) > (spans[i - 1]?.level ?? 0) ? [span.from] : []));
  return { rises, spans };
}
