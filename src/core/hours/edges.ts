import { DAY_S, type Instant } from "../time/instant";
import type { CompiledSchedule } from "./compile";
import { expand } from "./expand";
import type { Level } from "./level";

/** A change of level; `because` is the reason for the new one. Null stands for leave. */
export type Edge = Readonly<{ at: Instant; from: Level | null; to: Level | null; because: string }>;

const HORIZON_S = 5 * 366 * DAY_S;
const STEP_S = 28 * DAY_S;

/** The first `count` instants strictly after `t` at which the level changes, searched for five years. */
export function nextEdges(compiled: CompiledSchedule, t: Instant, count: number): Edge[] {
  const edges: Edge[] = [];
  let last: { level: Level | null } | undefined;
  for (let from = t; from < t + HORIZON_S && edges.length < count; from += STEP_S) {
    for (const interval of expand(compiled, from, from + STEP_S)) {
      if (last && last.level !== interval.level && interval.from > t) {
        edges.push({ at: interval.from, from: last.level, to: interval.level, because: interval.because });
        if (edges.length === count) break;
      }
      last = interval;
    }
  }
  return edges;
}
