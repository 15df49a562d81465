import { expandWithLead, type Level } from "../hours";
import { type FleetPlan, isGuarded, type Resource } from "../plan";
import { type Instant, MINUTE_S } from "../time";
import type { Following } from "./due-edges";
import { byRule, decidingAt, levelUnder, type RuleName } from "./override";
import { ownSizeOf } from "./own-size";

/** A stretch of what is due; null: leave it as it is. `decidedBy` is the rule that spoke. */
export type DueSpan = Readonly<{
  from: Instant;
  to: Instant;
  level: Level | null;
  decidedBy: RuleName;
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
  if (following.overrides.length === 0) return hours;
  const lists = byRule(following.overrides, { resourceId: resource.id, plan: following.fleet });
  const onIt = lists.flat();
  if (onIt.length === 0) return hours;
  const spans: DueSpan[] = [];
  const push = (next: DueSpan) => {
    const last = spans.at(-1);
    if (last && last.level === next.level && last.decidedBy === next.decidedBy && last.offAction === next.offAction)
      spans[spans.length - 1] = { ...last, to: next.to };
    else spans.push(next);
  };
  let i = 0;
  const edges = edgesOf([...hours, ...onIt], { from, to });
  edges.forEach((start, e) => {
    const end = edges[e + 1];
    if (end === undefined) return;
    while ((hours[i]?.to ?? end) <= start) i++;
    const byHours = hours[i] as DueSpan;
    const deciding = decidingAt(lists, start);
    if (!deciding) push({ ...byHours, from: start, to: end });
    else {
      const { override, rule } = deciding;
      const said = { from: start, to: end, level: levelUnder(override, byHours.level), decidedBy: rule.name };
      push(override.offAction === null ? said : { ...said, offAction: override.offAction });
    }
  });
  return spans;
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
