import { capabilitiesFor, isGuarded, isRunningState, type Resource } from "@/core/plan";
import { LIKELY_STEP_S, type LikelyTerms, likelyUnits, wholeUnits } from "@/core/ready";
import { type AheadSpan, hoursFinder, OVERRIDES, type Override, overridesOn, whyNoHibernation } from "@/core/rounds";
import { hoursTarget } from "@/core/targets";
import type { Instant } from "@/core/time";
import type { Claim } from "./claims";
import { compileAll, type Snapshot } from "./snapshot";

type Living = Readonly<{ claims: readonly (Claim | null)[]; holds: readonly Override[]; from: Instant; to: Instant }>;

/**
 * What the machines of pools will be if plans are kept and people come as in the weeks before: as many on as is likely at each time of
 * the week, those that run now first. What a pool chose until now says nothing of later. By id; of pools whose people nobody knows,
 * and of machines under a person's hold, nothing.
 */
export function poolsAhead(snapshot: Snapshot, { claims, holds, from, to }: Living): ReadonlyMap<string, readonly AheadSpan[]> {
  const { resources, likely, capabilities } = snapshot;
  if (![...likely.values()].some(({ inUse }) => inUse !== null)) return NONE;
  const onIt = overridesOn(holds);
  const isHeld = (one: Resource, fleet: string) =>
    onIt(one.id, fleet).some((own) => !OVERRIDES[own.kind].isOfPool && own.from <= from && own.to > from);
  const pools = new Map<Claim["plan"], Resource[]>();
  resources.forEach((one, i) => {
    const plan = claims[i]?.plan;
    if (!plan?.pooled || one.kind !== "machine" || one.state === "gone" || isGuarded(one)) return;
    if (!likely.get(plan.name)?.inUse || isHeld(one, plan.name)) return;
    const own = pools.get(plan);
    if (own) own.push(one);
    else pools.set(plan, [one]);
  });
  if (pools.size === 0) return NONE;
  const schedules = compileAll(snapshot.schedules, snapshot.calendars);
  const find = hoursFinder(schedules, capabilities);
  const ahead = new Map<string, readonly AheadSpan[]>();
  for (const [plan, members] of pools) {
    const use = likely.get(plan.name)?.inUse;
    const terms = termsOf(plan, members, { schedules, find });
    if (!use || !terms) continue;
    const start = Math.floor(from / LIKELY_STEP_S) * LIKELY_STEP_S;
    const likelyOn = likelyUnits(use, terms, { from: start, count: Math.ceil((to - start) / LIKELY_STEP_S) });
    // Whoever is there now stays for the quarter of an hour.
    const units = [members.filter(({ state }) => isRunningState(state)).length, ...wholeUnits(likelyOn.slice(1))];
    inOrder(members).forEach((one, place) => {
      const said = capabilitiesFor(one, capabilities);
      const hibernates = plan.offAction === "hibernate" && said !== undefined && whyNoHibernation(one, said) === null;
      ahead.set(one.id, lifeAt(place, units, { start, from, to, off: hibernates ? "hibernated" : "stopped" }));
    });
  }
  return ahead;
}

/** What a pool's plan wants, by its hours and spare; null where no hours say so. */
export function likelyTerms(
  plan: Claim["plan"],
  members: readonly Resource[],
  { schedules: all, calendars, capabilities }: Pick<Snapshot, "schedules" | "calendars" | "capabilities">,
): LikelyTerms | null {
  const schedules = compileAll(all, calendars);
  return termsOf(plan, members, { schedules, find: hoursFinder(schedules, capabilities) });
}

type Compiled = Readonly<{ schedules: ReturnType<typeof compileAll>; find: ReturnType<typeof hoursFinder> }>;

function termsOf(plan: Claim["plan"], members: readonly Resource[], { schedules, find }: Compiled): LikelyTerms | null {
  const [first] = members;
  const found = first && find(first, { hours: plan.hours, pooled: undefined });
  if (found?.kind !== "schedule") return null;
  const { spare = 0 } = plan.pooled ?? {};
  const ofSpare = typeof spare === "string" ? schedules.get(spare) : undefined;
  return {
    target: hoursTarget(found.compiled, { leadMinutes: plan.lead, all: members.length }),
    spare: typeof spare === "number" ? spare : ofSpare ? hoursTarget(ofSpare, { leadMinutes: 0, all: 1 }) : 0,
    machines: members.length,
  };
}

const NONE: ReadonlyMap<string, readonly AheadSpan[]> = new Map();

/** Those that run first, by name. */
function inOrder(members: readonly Resource[]): readonly Resource[] {
  const rank = ({ state }: Resource) => (isRunningState(state) ? 0 : 1);
  return [...members].sort((a, b) => rank(a) - rank(b) || (a.name < b.name ? -1 : 1));
}

type Placing = Readonly<{ start: Instant; from: Instant; to: Instant; off: "hibernated" | "stopped" }>;

/** On while more are on than there are places before it. */
function lifeAt(place: number, units: readonly number[], { start, from, to, off }: Placing): readonly AheadSpan[] {
  const spans: AheadSpan[] = [];
  units.forEach((count, i) => {
    const begin = Math.max(from, start + i * LIKELY_STEP_S);
    const end = Math.min(to, start + (i + 1) * LIKELY_STEP_S);
    if (begin >= end) return;
    const state = count > place ? "running" : off;
    const last = spans.at(-1);
    if (last?.state === state) spans[spans.length - 1] = { ...last, to: end };
    else spans.push({ from: begin, to: end, state, level: (state === "running" ? 1 : 0) as AheadSpan["level"] });
  });
  return spans;
}
