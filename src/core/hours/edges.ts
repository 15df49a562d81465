import { DAY_S, type Instant } from "../time/instant";
import type { CompiledSchedule } from "./compile";

import { expandWithLead } from "./lead";
import { asLevel, type Level } from "./level";

/** A change of level; `because` is the reason for the new one. Null stands for leave. */
export type Edge = Readonly<{ at: Instant; from: Level | null; to: Level | null; because: string }>;

const HORIZON_S = 5 * 366 * DAY_S;
const FIRST_S = 28 * DAY_S;

export type EdgeQuery = Readonly<{
  t: Instant;
  count: number;
  /** Rises come so many seconds early; 0 unless said. */
  leadS?: number;
  /** What on means; a machine's 1 unless said. */
  ownSize?: Level;
}>;

/** The first `count` instants strictly after `t` at which the level changes, searched for five years. */
export function nextEdges(compiled: CompiledSchedule, { t, count, leadS = 0, ownSize = asLevel(1) }: EdgeQuery): Edge[] {
  for (let ahead = FIRST_S; ; ahead = Math.min(HORIZON_S, ahead * 4)) {
    const edges = edgesWithin(compiled, { from: t, to: t + ahead, leadS, ownSize });
    if (edges.length >= count || ahead === HORIZON_S) return edges.slice(0, count);
  }
}

type Within = Readonly<{ from: Instant; to: Instant; leadS: number; ownSize: Level }>;

function edgesWithin(compiled: CompiledSchedule, { from, to, leadS, ownSize }: Within): Edge[] {
  const intervals = expandWithLead(compiled, { from, to, leadS, ownSize });
  return intervals.flatMap((interval, i) => {
    const before = intervals[i - 1];
    const isEdge = before && before.level !== interval.level && interval.from > from && interval.from < to;
    return isEdge ? [{ at: interval.from, from: before.level, to: interval.level, because: interval.because }] : [];
  });
}
