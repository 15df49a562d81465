import { expandWithLead, type Level, OFF } from "../hours";
import { type FleetPlan, isGuarded, type Resource } from "../plan";
import { type Instant, MINUTE_S } from "../time";
import { type Hold, IDLE_TRIP, isPlaced, keptLevel, offActionOf, READY } from "./due";
import type { Following } from "./due-edges";
import { ownSizeOf } from "./own-size";

/** A stretch of what is due; null: leave it as it is. `decidedBy` is the rule that spoke. */
export type DueSpan = Readonly<{
  from: Instant;
  to: Instant;
  level: Level | null;
  decidedBy: string;
  offAction?: FleetPlan["offAction"] | null;
}>;

/**
 * What is due over `[from, to)`: the answer of `dueAt` at every instant, as stretches that tile the
 * span, equal neighbours joined. Rounds, the strip, Burn, previews and realised savings ask it.
 */
export function dueOver(
  resource: Resource,
  following: Following,
  { from, to }: Readonly<{ from: Instant; to: Instant }>,
): readonly DueSpan[] {
  if (from >= to) return [];
  if (isGuarded(resource)) return [{ from, to, level: null, decidedBy: "guard" }];
  const hours = hoursOver(resource, following, { from, to });
  const { fleet } = following;
  const onIt = following.holds.filter(({ resourceId }) => resourceId === resource.id);
  const own = onIt.filter(isPlaced);
  const trips = onIt.filter(({ trip }) => trip);
  const starts = onIt.filter(({ isStart }) => isStart);
  const chosen = onIt.filter(({ isReady }) => isReady && fleet.pooled);
  const shared = following.holds.filter((hold) => hold.resourceId === null && hold.fleet === fleet.name);
  if (onIt.length + shared.length === 0) return hours;
  const spans: DueSpan[] = [];
  const push = (next: DueSpan) => {
    const last = spans.at(-1);
    if (last && last.level === next.level && last.decidedBy === next.decidedBy)
      spans[spans.length - 1] = { ...last, to: next.to };
    else spans.push(next);
  };
  let i = 0;
  const edges = edgesOf([...hours, ...onIt, ...shared], { from, to });
  edges.forEach((start, e) => {
    const end = edges[e + 1];
    if (end === undefined) return;
    while ((hours[i]?.to ?? end) <= start) i++;
    const held = newestAt(own, start) ?? newestAt(shared, start);
    const tripped = newestAt(trips, start);
    if (held) push({ from: start, to: end, level: held.level, decidedBy: holdRule(held) });
    else if (tripped)
      push({ from: start, to: end, level: OFF, decidedBy: IDLE_TRIP, offAction: offActionOf(IDLE_TRIP, tripped) });
    else {
      const started = newestAt(starts, start);
      const byHours = hours[i] as DueSpan;
      const ready = newestAt(chosen, start);
      if (started) push({ from: start, to: end, level: keptLevel(started, byHours.level), decidedBy: "person's start" });
      else if (ready) push({ from: start, to: end, level: ready.level, decidedBy: READY });
      else push({ ...byHours, from: start, to: end });
    }
  });
  return spans;
}

function holdRule({ resourceId }: Hold): string {
  return resourceId === null ? "hold on the fleet" : "hold on the resource";
}

/** Of several holds the one placed last counts. */
function newestAt(holds: readonly Hold[], t: Instant): Hold | null {
  let newest: Hold | null = null;
  for (const hold of holds) {
    if (hold.from <= t && t < hold.to && (newest === null || hold.id > newest.id)) newest = hold;
  }
  return newest;
}

type Window = Readonly<{ from: Instant; to: Instant }>;

function edgesOf(spans: readonly Window[], { from, to }: Window): Instant[] {
  const edges = new Set([from, to]);
  for (const span of spans) {
    if (span.from > from && span.from < to) edges.add(span.from);
    if (span.to > from && span.to < to) edges.add(span.to);
  }
  return [...edges].sort((a, b) => a - b);
}

/** What the hours alone give, with their lead; neighbours joined whatever their rows. */
function hoursOver(resource: Resource, { fleet, hours }: Following, { from, to }: Window): DueSpan[] {
  if (hours.kind !== "schedule") return [{ from, to, level: null, decidedBy: "leave" }];
  const leadS = fleet.lead * MINUTE_S;
  const spans: DueSpan[] = [];
  for (const { level, ...span } of expandWithLead(hours.compiled, { from, to, leadS, ownSize: ownSizeOf(resource, fleet) })) {
    const last = spans.at(-1);
    if (last && last.level === level) spans[spans.length - 1] = { ...last, to: span.to };
    else spans.push({ from: span.from, to: span.to, level, decidedBy: level === null ? "leave" : "hours" });
  }
  return spans;
}
