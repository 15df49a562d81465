import { type CompiledSchedule, type Level, nextEdges } from "../hours";
import type { FleetPlan, Resource } from "../plan";
import { clockChanges, type Instant, MINUTE_S } from "../time";
import { dueAt, type HoursFor, type HoursSource, hoursAt } from "./due";
import type { HoursOf } from "./hours-of";
import type { Override, RuleName } from "./override";
import { ownSizeOf } from "./own-size";
import { decidingReason, type RuleReason } from "./reason";

/** A change of what is due, for whatever reason. */
export type DueEdge = Readonly<{
  at: Instant;
  from: Level | null;
  to: Level | null;
  decidedBy: RuleName;
  because: RuleReason;
  /** Seconds that the clock gained (in autumn) or lost (in spring, below 0) since the edge before: that stretch is longer or shorter. */
  clockChangeS: number;
}>;

export type Following = Readonly<{
  fleet: FleetPlan;
  overrides: readonly Override[];
  hours: HoursOf;
}>;

/**
 * The first `count` instants strictly after `t` at which a resource's due level changes, holds and
 * hours with their lead counted; hours are searched for five years.
 */
export function nextDueEdges(
  resource: Resource,
  following: Following,
  { t, count }: { t: Instant; count: number },
): readonly DueEdge[] {
  const compiled = following.hours.kind === "schedule" ? following.hours.compiled : null;
  const ownSize = ownSizeOf(resource, following.fleet);
  const holdEnds = following.overrides.flatMap(({ from, to }) => [from, to]).filter((at) => at > t);
  for (let wanted = count * 2; ; wanted *= 4) {
    const hourEdges = compiled
      ? nextEdges(compiled, { t, count: wanted, leadS: following.fleet.lead * MINUTE_S, ownSize }).map(({ at }) => at)
      : [];
    // What is known is known up to the last edge of the hours, or for good where there are no more of them.
    const isAll = hourEdges.length < wanted;
    const until = isAll ? Number.POSITIVE_INFINITY : (hourEdges.at(-1) as Instant);
    const candidates = [...new Set([...hourEdges, ...holdEnds.filter((at) => at <= until)])].sort((a, b) => a - b);
    const edges = edgesAt(resource, following, { t, candidates, compiled });
    if (edges.length >= count || isAll) return edges.slice(0, count);
  }
}

type Search = Readonly<{ t: Instant; candidates: readonly Instant[]; compiled: CompiledSchedule | null }>;

function edgesAt(resource: Resource, following: Following, { t, candidates, compiled }: Search): DueEdge[] {
  const dueOf = (at: Instant) =>
    dueAt(resource, {
      now: at,
      ...following,
      hours: sourceAt(following.hours, at, { leadMinutes: following.fleet.lead, ownSize: ownSizeOf(resource, following.fleet) }),
    });
  const edges: DueEdge[] = [];
  let before = dueOf(t).level;
  let last = t;
  for (const at of candidates) {
    const due = dueOf(at);
    if (due.level === before) continue;
    const because = decidingReason(due);
    const changes = compiled ? clockChanges(compiled.schedule.zone, last, at + 1) : [];
    // A clock put back makes the stretch longer.
    const clockChangeS = changes.reduce((sum, { change }) => sum - change, 0);
    edges.push({ at, from: before, to: due.level, decidedBy: due.decidedBy, because, clockChangeS });
    before = due.level;
    last = at;
  }
  return edges;
}

function sourceAt(hours: HoursOf, at: Instant, whose: HoursFor): HoursSource {
  return hours.kind === "schedule" ? { kind: "schedule", now: hoursAt(hours.compiled, at, whose) } : hours;
}
