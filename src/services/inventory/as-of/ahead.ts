import { type CompiledSchedule, expand, type Level, withLead } from "@/core/hours";
import { type FleetPlan, isRunningState } from "@/core/plan";
import { whyNoHibernation } from "@/core/rounds";
import { type Instant, MINUTE_S } from "@/core/time";
import { resourceAs, type StateOf, type StoredResource } from "@/store";
import { type Claim, claimsOf } from "../claims";
import type { StoredWorld } from "../stored";
import { type AsOf, dueFinder } from "./due";

/** What is due ahead of now is taken to be kept. */
export function asTheyWillBe(asOf: AsOf): StoredResource[] {
  const { world } = asOf;
  const dueOf = dueFinder(asOf);
  const sinceOf = turnFinder(asOf);
  const claims = claimsOf(world);
  return world.resources.map((resource, i) => {
    const claim = claims[i] ?? null;
    const then = dueOf(resource, claim);
    const isHeldBack = claim?.plan.starts === "hand" && then.due !== null && then.due > resource.level;
    if (!claim || then.due === null || claim.isGuarded || isHeldBack) return resourceAs(resource, resource, then);
    return resourceAs(resource, movedTo(resource, then.due, { since: () => sinceOf(claim), plan: claim.plan, world }), then);
  });
}

function movedTo(
  resource: StoredResource,
  due: Level,
  { since, plan, world }: { since: () => Instant; plan: FleetPlan; world: StoredWorld },
): StateOf {
  const level = (resource.kind === "machine" ? Math.min(1, due) : Math.min(resource.levelMax, due)) as Level;
  const isOn = isRunningState(resource.state);
  if (level > 0 && isOn) return { state: "running", level, target: level, since: resource.since, runSince: resource.runSince };
  if (level > 0) {
    const at = since();
    return { state: "running", level, target: level, since: at, runSince: at };
  }
  if (!isOn && resource.state !== "halted") return resource;
  const own = world.capabilities.get(resource.fields.provider ?? "");
  const hibernates = plan.offAction === "hibernate" && own !== undefined && whyNoHibernation(resource, own) === null;
  return { state: hibernates ? "hibernated" : "stopped", level, target: level, since: since(), runSince: null };
}

/** When what is due at `at` last turned on or off between now and then; now itself where a hold did it. */
function turnFinder({ at, now }: AsOf): (claim: Claim) => Instant {
  const known = new Map<Claim, Instant>();
  return (claim) => {
    const { hours, plan } = claim;
    if (hours.kind !== "schedule") return now;
    const turn = known.get(claim) ?? lastTurn(hours.compiled, { leadS: plan.lead * MINUTE_S, now, at });
    known.set(claim, turn);
    return turn;
  };
}

function lastTurn(compiled: CompiledSchedule, { leadS, now, at }: { leadS: number; now: Instant; at: Instant }): Instant {
  let since = now;
  let wasOn: boolean | null = null;
  for (const { from, level } of withLead(expand(compiled, now, at + leadS + 1), leadS)) {
    if (from > at) break;
    const isOn = level !== 0;
    if (isOn !== wasOn) since = Math.max(now, from);
    wasOn = isOn;
  }
  return since;
}
