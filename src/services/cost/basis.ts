import { type Capabilities, isGuarded, type Resource } from "@/core/plan";
import { cardReader, countsAt, covers } from "@/core/pricing";
import type { Projected, Window } from "@/core/projection";
import { claimer, type Hold, whyNoHibernation } from "@/core/rounds";
import { matcher, type NearMiss, nearMisses, type SelectorWarning, selectorWarnings, tryParseSelector } from "@/core/selector";
import { DAY_S, type Instant, MINUTE_S } from "@/core/time";
import { holdsFrom, priceBooks, runsOf, type StartTime, startTimes } from "@/store";
import { authorise, type Person, type Services } from "../admin";
import { currencyOf, worldAt } from "../inventory";

/** One matched resource with everything that its projection and its first round need. Amounts are exact, as text. */
export type BasisLine = Readonly<{
  resource: Resource;
  /** The higher-ranked fleet in force that has it already; null where it is free for this one. */
  claimedBy: string | null;
  unpriced: readonly string[];
  whyNoHibernation: string | null;
  projected: unknown;
}>;

export type Basis = Readonly<{
  selectorError: Readonly<{ at: number; message: string }> | null;
  warnings: readonly SelectorWarning[];
  /** Machines whose tag is likely mistyped, so that the selector passes them over. */
  nearMisses: readonly NearMiss[];
  lines: readonly BasisLine[];
  total: number;
  windows: Readonly<{ past: Window; ahead: Window }>;
  now: number;
  currency: string;
  providers: readonly Capabilities[];
  holds: readonly Hold[];
  /** What commitments cover of these machines, after what others use; `perLevel` is an exact amount per second, as text. */
  commitments: readonly Readonly<{ units: number; perLevel: string; ids: readonly string[] }>[];
  /** Starts of these machines as they were measured; null where there was none. */
  starts: LeadBasis | null;
}>;

export const HISTORY_DAYS = 28;
const AHEAD_DAYS = 365;
const LINES_MAX = 5000;

/** What a selector matches, now or as of another instant, with rates and past runs, for a projection in the browser. */
export async function projectionBasis(
  services: Services,
  person: Person,
  { selector, fleetId, at = null }: { selector: string; fleetId: number | null; at?: Instant | null },
): Promise<Basis> {
  authorise(person, "look");
  const [world, prices] = await Promise.all([worldAt(services, at), priceBooks(services.pool)]);
  const now = world.at;
  const windows = { past: { from: now - HISTORY_DAYS * DAY_S, to: now }, ahead: { from: now, to: now + AHEAD_DAYS * DAY_S } };
  const currency = currencyOf(world);
  const empty = {
    warnings: [],
    nearMisses: [],
    lines: [],
    total: 0,
    windows,
    now,
    currency,
    providers: [...world.capabilities.values()],
    holds: await holdsFrom(services.pool, now),
    starts: null,
    commitments: [],
  };
  if (selector.trim() === "")
    return { ...empty, selectorError: { at: 0, message: "write a selector, for example: team = draughting" } };
  const parsed = tryParseSelector(selector);
  if (!parsed.ok) return { ...empty, selectorError: { at: parsed.error.at, message: parsed.error.message } };

  const matched = world.schedulable.filter(matcher(parsed.selector));
  const rank = world.fleets.find(({ id }) => id === fleetId)?.rank ?? Number.POSITIVE_INFINITY;
  const claim = claimer(world.fleets.flatMap((fleet) => (fleet.inForce && fleet.rank < rank ? [fleet.inForce] : [])));
  const shown = matched.slice(0, LINES_MAX);
  const runs = await runsOf(
    services.pool,
    shown.map(({ id }) => id),
    windows.past,
  );
  const ids = new Set(shown.map(({ id }) => id));
  const times = await startTimes(
    services.pool,
    shown.map(({ id }) => id),
    windows.past.from,
  );
  const cardOf = cardReader(prices.history.bookAt(now), world.capabilities);
  const lines = shown.flatMap((resource): BasisLine[] => {
    const capabilities = world.capabilities.get(resource.fields.provider ?? "");
    const card = cardOf(resource);
    if (!capabilities || !card) return [];
    const claimedBy = claim(resource)?.name ?? null;
    const why = whyNoHibernation(resource, capabilities);
    const projected: Projected = {
      id: resource.id,
      kind: resource.kind,
      levelMax: resource.levelMax,
      card,
      runs: runs.get(resource.id) ?? [],
      isLeft: isGuarded(resource) || claimedBy !== null,
      canHibernate: why === null,
    };
    return [
      {
        resource,
        claimedBy,
        unpriced: card.unpriced,
        whyNoHibernation: why,
        projected: withBigintsAsText(projected),
      },
    ];
  });
  return {
    ...empty,
    selectorError: null,
    warnings: selectorWarnings(parsed.selector, world.resources),
    nearMisses: nearMisses(parsed.selector, world.schedulable),
    lines,
    total: matched.length,
    starts: leadBasis(times),
    commitments: prices.commitments.flatMap((commitment) => {
      if (!countsAt(commitment, now)) return [];
      const covered = world.resources.filter((resource) => covers(commitment, resource));
      const own = covered.filter(({ id }) => ids.has(id));
      const [first] = own;
      const card = first && cardOf(first);
      // As they run now: what others take of the cover is not there for these.
      const others = covered.reduce((sum, { id, level }) => sum + (ids.has(id) ? 0 : level), 0);
      return card ? [{ units: commitment.units - others, perLevel: String(card.perLevel), ids: own.map(({ id }) => id) }] : [];
    }),
  };
}

function withBigintsAsText(projected: Projected): unknown {
  const card = Object.fromEntries(
    Object.entries(projected.card).map(([key, value]) => [key, typeof value === "bigint" ? String(value) : value]),
  );
  return { ...projected, card };
}

/** What a lead is suggested from: how many starts were measured, and the time that 95 of 100 stayed under. */
export type LeadBasis = Readonly<{ count: number; resumes: number; p95S: number; suggestedMinutes: number }>;

/** The 95th percentile by nearest rank, in whole minutes; null without a measurement. */
export function leadBasis(times: readonly StartTime[]): LeadBasis | null {
  if (times.length === 0) return null;
  const sorted = times.map(({ seconds }) => seconds).sort((a, b) => a - b);
  const p95S = sorted[Math.ceil(0.95 * sorted.length) - 1] as number;
  const resumes = times.filter(({ isResume }) => isResume).length;
  return { count: times.length, resumes, p95S, suggestedMinutes: Math.ceil(p95S / MINUTE_S) };
}
