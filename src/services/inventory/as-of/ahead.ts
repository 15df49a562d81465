import { capabilitiesFor, isRunningState } from "@/core/plan";
import { type AheadSpan, lifeAhead, overridesOn } from "@/core/rounds";
import { resourceAs, type StateOf, type StoredResource } from "@/store";
import { type Claim, claimsOf, followingOf } from "../claims";
import { mixesAhead } from "../mixes-ahead";
import { poolsAhead } from "../pools-ahead";
import { likelyIdleOf, usedAhead } from "../used-ahead";
import { type AsOf, dueFinder } from "./due";

/** What is due ahead of now is taken to be kept. */
export function asTheyWillBe(asOf: AsOf): StoredResource[] {
  const { snapshot } = asOf;
  const dueOf = dueFinder(asOf);
  const lifeOf = lifeReader(asOf);
  const claims = claimsOf(snapshot);
  const living = { claims, holds: asOf.holds, from: asOf.now, to: asOf.at + 1 };
  const mixed = mixesAhead(snapshot, living);
  const pooled = poolsAhead(snapshot, living);
  const onIt = overridesOn(asOf.holds);
  return snapshot.resources.map((resource, i) => {
    const claim = claims[i] ?? null;
    const then = resource.kind === "member" ? resource : dueOf(resource, claim);
    const given = mixed.get(resource.id);
    if (given) return resourceAs({ ...resource, fields: given.fields }, stateAfter(resource, given.spans), then);
    const likely = pooled.get(resource.id);
    if (likely)
      return resourceAs(resource, stateAfter(resource, likely), { ...then, due: likely.at(-1)?.level ?? null, why: LIKELY });
    if (claim && claim.hours.kind !== "schedule" && likelyIdleOf(resource, claim, snapshot) !== null) {
      const used = usedAhead(onIt(resource.id, claim.plan.name), { from: asOf.now, to: asOf.at + 1 });
      return resourceAs(resource, stateAfter(resource, used), { ...then, why: USED });
    }
    return resourceAs(resource, claim ? stateAfter(resource, lifeOf(resource, claim)) : resource, then);
  });
}

const USED = "on as often as in the weeks before, and as idle alarms would have left it";
const LIKELY = "as many as were wanted at this time of the weeks before";

/** Lives up to the instant asked about; those of one claim that stand alike share theirs. */
function lifeReader({ snapshot, at, now, holds }: AsOf): (resource: StoredResource, claim: Claim) => readonly AheadSpan[] {
  const onIt = overridesOn(holds);
  const held = new Set(holds.map(({ resourceId }) => resourceId));
  const known = new Map<Claim, Map<string, readonly AheadSpan[]>>();
  return (resource, claim) => {
    const capabilities = capabilitiesFor(resource, snapshot.capabilities);
    const ask = () =>
      lifeAhead(resource, followingOf(claim, onIt(resource.id, claim.plan.name)), { from: now, to: at + 1, capabilities });
    if (held.has(resource.id)) return ask();
    const byState = known.get(claim) ?? new Map<string, readonly AheadSpan[]>();
    known.set(claim, byState);
    const { kind, state, level, levelMax, memoryGib, fields } = resource;
    const key = `${kind} ${state} ${level} ${levelMax} ${memoryGib} ${fields.os} ${fields.account}`;
    const life = byState.get(key) ?? ask();
    byState.set(key, life);
    return life;
  };
}

/** What it is at the end of a life ahead; a run that goes on goes on from where it began. */
function stateAfter(resource: StoredResource, life: readonly AheadSpan[]): StateOf {
  const last = life.at(-1);
  if (!last || (life.length === 1 && last.state === resource.state && last.level === resource.level)) return resource;
  let first = life.length - 1;
  while (first > 0 && isRunningState((life[first - 1] as AheadSpan).state)) first--;
  const began = (life[first] as AheadSpan).from;
  const goesOn = first === 0 && isRunningState((life[0] as AheadSpan).state) && resource.runSince !== null;
  const runSince = isRunningState(last.state) ? (goesOn ? resource.runSince : began) : null;
  const since = life.length === 1 ? resource.since : last.from;
  return { state: last.state, level: last.level, target: last.level, since, runSince };
}
