import type { CompiledSchedule } from "@/core/hours";
import { type FleetPlan, isGuarded, type Resource } from "@/core/plan";
import { type Amount, type AmountPerSecond, formatCents, microsOf, type RateCard } from "@/core/pricing";
import { type HoursProjection, type Projected, projectHours } from "@/core/projection";
import { DEFAULT_LIMITS, type Decision, decide } from "@/core/rounds";
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

/** What the month costs always on, as it ran, and with the hours; null hours mean nothing changes. */
export function reckon(
  projected: readonly Projected[],
  { basis, compiled, plan }: { basis: Basis; compiled: CompiledSchedule | null; plan: FleetPlan | null },
): HoursProjection {
  const lever =
    compiled && plan ? { schedule: compiled, leadMinutes: plan.lead, offAction: plan.offAction, starts: plan.starts } : null;
  return projectHours(projected, lever, basis.windows);
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
export function firstRound(
  basis: Basis,
  { compiled, plan }: { compiled: CompiledSchedule | null; plan: FleetPlan | null },
): FirstRound {
  const free = basis.lines.filter(({ claimedBy }) => claimedBy === null);
  const byId = new Map(free.map(({ resource }) => [resource.id, resource]));
  const decisions =
    compiled && plan && typeof plan.hours === "string"
      ? decideWith(basis, { compiled, plan, resources: [...byId.values()] })
      : [];
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
  { compiled, plan, resources }: { compiled: CompiledSchedule; plan: FleetPlan; resources: readonly Resource[] },
): readonly Decision[] {
  return decide({
    now: basis.now,
    resources,
    fleets: [plan],
    schedules: new Map([[compiled.schedule.name, compiled]]),
    holds: [],
    trips: new Map(),
    lastDue: new Map(),
    openActions: new Map(),
    capabilities: new Map(basis.providers.map((capabilities) => [capabilities.provider, capabilities])),
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
