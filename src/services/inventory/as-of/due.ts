import type { Resource } from "@/core/plan";
import { decidingReason, dueReader, reasonWords } from "@/core/rounds";
import type { Instant } from "@/core/time";
import type { Decided, StoredOverride } from "@/store";
import type { Claim } from "../claims";
import type { Snapshot } from "../snapshot";

/** Where the instant that is asked about lies. */
export type Tense = "now" | "past" | "ahead";

/** What an answer as of another instant than now rests on. */
export type AsOf = Readonly<{
  snapshot: Snapshot;
  at: Instant;
  now: Instant;
  tense: Exclude<Tense, "now">;
  holds: readonly StoredOverride[];
}>;

const UNCLAIMED: Decided = { due: null, fleet: null, why: reasonWords({ code: "no fleet" }) };

/** Says what is due at `at` by the chain of rules; one answer for all that nothing but their hours speaks for. */
export function dueFinder({ snapshot, at, holds }: AsOf): (resource: Resource, claim: Claim | null) => Decided {
  const dueOf = dueReader({ now: at, schedules: new Map(), capabilities: snapshot.capabilities, overrides: holds });
  const held = new Set(holds.map(({ resourceId }) => resourceId));
  const shared = new Map<Claim, Decided>();
  const ask = (resource: Resource, { plan, hours }: Claim): Decided => {
    const due = dueOf(resource, plan, hours);
    return { due: due.level, fleet: plan.name, why: reasonWords(decidingReason(due)) };
  };
  return (resource, claim) => {
    if (!claim) return UNCLAIMED;
    if (claim.isGuarded || (held.size > 0 && held.has(resource.id))) return ask(resource, claim);
    const due = shared.get(claim) ?? ask(resource, claim);
    shared.set(claim, due);
    return due;
  };
}
