import type { CompiledSchedule } from "@/core/hours";
import { type Capabilities, type FleetPlan, isGuarded, type Resource } from "@/core/plan";
import { type Amount, type AmountPerSecond, formatCents, microsOf, type RateCard } from "@/core/pricing";
import { addProjections, type NetProjection, netOfCommitments, type Projected, projectHours } from "@/core/projection";
import { DEFAULT_LIMITS, type Decision, decide, type HoursOf, hoursFinder } from "@/core/rounds";
import type { Basis } from "@/services";

/** A basis as it came over the wire, made whole again: amounts are exact integers. */
export function projectedOf(basis: Basis): readonly Projected[] {
  return basis.lines.map(({ projected }) => {
    const line = projected as Omit<Projected, "card"> & { card: Record<string, unknown> };
    const amount = (name: string) => BigInt(line.card[name] as string) as AmountPerSecond;
    const card = {
      ...line.card,
      perLevel: amount("perLevel"),
      licencePerCore: amount("licencePerCore"),
      always: amount("always"),
      addressesOn: amount("addressesOn"),
      addressesOff: amount("addressesOff"),
      image: amount("image"),
    } as RateCard;
    return { ...line, card };
  });
}

export type Reckoning = Readonly<{ basis: Basis; plan: FleetPlan | null; schedules: ReadonlyMap<string, CompiledSchedule> }>;

/** What the month costs always on, as it ran, and with the hours each machine follows, net of commitments; without hours nothing changes. */
export function reckon(projected: readonly Projected[], { basis, plan, schedules }: Reckoning): NetProjection {
  const find = hoursFinder(schedules, capabilitiesOf(basis));
  const followers = new Map<CompiledSchedule | null, Projected[]>([[null, []]]);
  projected.forEach((line, i) => {
    const resource = basis.lines[i]?.resource;
    const found = plan && resource ? find(resource, plan) : null;
    const schedule = found?.kind === "schedule" ? found.compiled : null;
    const lines = followers.get(schedule);
    if (lines) lines.push(line);
    else followers.set(schedule, [line]);
  });
  const parts = [...followers].map(([schedule, lines]) => {
    const lever = schedule && plan ? { schedule, leadMinutes: plan.lead, offAction: plan.offAction, starts: plan.starts } : null;
    return { lines, lever };
  });
  const gross = parts.map(({ lines, lever }) => projectHours(lines, lever, basis.windows)).reduce(addProjections);
  const levered = parts.flatMap(({ lines, lever }) => lines.map((line) => ({ projected: line, lever })));
  const commitments = basis.commitments.map(({ units, perLevel, ids }) => ({
    units,
    perLevel: BigInt(perLevel) as AmountPerSecond,
    ids: new Set(ids),
  }));
  return netOfCommitments(gross, levered, { commitments, past: basis.windows.past });
}

function capabilitiesOf({ providers }: Basis): ReadonlyMap<string, Capabilities> {
  return new Map(providers.map((capabilities) => [capabilities.provider, capabilities]));
}

/** What a tag says on some machines, and what it means. */
export type SaidHours = Readonly<{ found: HoursOf; text: string; machines: readonly string[] }>;

/** What each machine's tag says of its hours, what cannot be followed first; empty where hours are not named by tag. */
export function saidHours({ basis, plan, schedules }: Reckoning): readonly SaidHours[] {
  if (!plan || plan.hours === undefined || typeof plan.hours === "string") return [];
  const { fromTag } = plan.hours;
  const find = hoursFinder(schedules, capabilitiesOf(basis));
  const said = new Map<HoursOf, { found: HoursOf; text: string; machines: string[] }>();
  for (const { resource } of basis.lines) {
    const found = find(resource, plan);
    const known = said.get(found) ?? { found, text: resource.tags[fromTag]?.trim() ?? "", machines: [] };
    known.machines.push(resource.name);
    said.set(found, known);
  }
  const order = { unknown: 0, unreadable: 0, untagged: 1, schedule: 2, none: 2 };
  return [...said.values()].sort((a, b) => order[a.found.kind] - order[b.found.kind] || b.machines.length - a.machines.length);
}

export type FirstRound = Readonly<{
  stops: readonly Resource[];
  starts: readonly Resource[];
  resizes: readonly Readonly<{ resource: Resource; level: number }>[];
  guarded: number;
  claimed: number;
  whyNoHibernation: readonly Readonly<{ name: string; why: string }>[];
}>;

/** What the first round would do if this went live now, from the same rules that rounds go by. */
export function firstRound({ basis, plan, schedules }: Reckoning): FirstRound {
  const free = basis.lines.filter(({ claimedBy }) => claimedBy === null);
  const byId = new Map(free.map(({ resource }) => [resource.id, resource]));
  const decisions = plan && plan.hours !== undefined ? decideWith(basis, { plan, schedules, resources: [...byId.values()] }) : [];
  const acting = decisions.filter(({ verdict }) => verdict === "act");
  const pick = (test: (decision: Decision) => boolean) =>
    acting.filter(test).map(({ resourceId }) => byId.get(resourceId) as Resource);
  return {
    stops: pick(({ action }) => action !== null && action.level === 0),
    starts: pick(({ action }) => action?.verb === "start"),
    resizes: acting
      .filter(({ action }) => action?.verb === "resize" && action.level > 0)
      .map(({ resourceId, action }) => ({ resource: byId.get(resourceId) as Resource, level: action?.level ?? 0 })),
    guarded: basis.lines.filter(({ resource }) => isGuarded(resource)).length,
    claimed: basis.lines.length - free.length,
    whyNoHibernation:
      plan?.offAction === "hibernate"
        ? free.flatMap(({ resource, whyNoHibernation }) =>
            whyNoHibernation ? [{ name: resource.name, why: whyNoHibernation }] : [],
          )
        : [],
  };
}

function decideWith(
  basis: Basis,
  {
    plan,
    schedules,
    resources,
  }: { plan: FleetPlan; schedules: ReadonlyMap<string, CompiledSchedule>; resources: readonly Resource[] },
): readonly Decision[] {
  return decide({
    now: basis.now,
    resources,
    fleets: [plan],
    schedules,
    holds: basis.holds,
    trips: new Map(),
    lastDue: new Map(),
    openActions: new Map(),
    capabilities: capabilitiesOf(basis),
    unread: new Map(),
    limits: { ...DEFAULT_LIMITS, perAccount: Number.POSITIVE_INFINITY, allowedStops: resources.length },
    roundEveryS: 60,
  });
}

export function money(amount: Amount): string {
  return formatCents(microsOf(amount));
}

export function share(part: Amount, whole: Amount): string {
  if (whole === 0n) return "0 %";
  return `${(Number((part * 1000n) / whole) / 10).toFixed(1)} %`;
}
