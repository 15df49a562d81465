import { asLevel } from "@/core/hours";
import { isGuarded, type Resource } from "@/core/plan";
import type { AheadSpan, Override } from "@/core/rounds";
import type { Instant } from "@/core/time";
import type { LikelyUse } from "@/store";
import type { Claim } from "./claims";
import type { Snapshot } from "./snapshot";

/** What was learned of the idle alarms that may turn a machine off; null where none may, or nothing was learned. */
export function likelyIdleOf(
  resource: Resource,
  { plan }: Pick<Claim, "plan">,
  { likely }: Pick<Snapshot, "likely">,
): LikelyUse["idle"] {
  const known = likely.get(plan.name)?.idle ?? null;
  const turnsOff = (plan.idle ?? []).some(({ action }) => action !== "tell");
  return turnsOff && resource.kind === "machine" && !isGuarded(resource) ? known : null;
}

/** Nothing but alarms says when it is on: whoever uses it does, as in the weeks before, once no person holds it off any more. */
export function usedAhead(
  holds: readonly Override[],
  { from: now, to }: Readonly<{ from: Instant; to: Instant }>,
): readonly AheadSpan[] {
  const off = holds.find(({ kind, level, from, to: end }) => kind !== "trip" && level === 0 && from <= now && end > now);
  const from = Math.min(to, off?.to ?? now);
  const spans: AheadSpan[] = [
    { from: now, to: from, state: "stopped", level: asLevel(0) },
    { from, to, state: "running", level: asLevel(1) },
  ];
  return spans.filter((span) => span.from < span.to);
}
