import { DAY_S, type Instant } from "../time/instant";
import type { CompiledSchedule } from "./compile";
import { expand } from "./expand";
import { withLead } from "./lead";
import type { Level } from "./level";

/** A change of level; `because` is the reason for the new one. Null stands for leave. */
export type Edge = Readonly<{ at: Instant; from: Level | null; to: Level | null; because: string }>;

const HORIZON_S = 5 * 366 * DAY_S;
const FIRST_S = 28 * DAY_S;

/** The first `count` instants strictly after `t` at which the level changes, searched for five years. Rises come `leadS` seconds early. */
export function nextEdges(compiled: CompiledSchedule, t: Instant, count: number, leadS = 0): Edge[] {
  for (let ahead = FIRST_S; ; ahead = Math.min(HORIZON_S, ahead * 4)) {
    const edges = edgesWithin(compiled, { from: t, to: t + ahead, leadS });
    if (edges.length >= count || ahead === HORIZON_S) return edges.slice(0, count);
  }
}

function edgesWithin(compiled: CompiledSchedule, { from, to, leadS }: { from: Instant; to: Instant; leadS: number }): Edge[] {
  const intervals = withLead(expand(compiled, from, to + leadS), leadS);
  return intervals.flatMap((interval, i) => {
    const before = intervals[i - 1];
    const isEdge = before && before.level !== interval.level && interval.from > from && interval.from < to;
    return isEdge ? [{ at: interval.from, from: before.level, to: interval.level, because: interval.because }] : [];
  });
}
