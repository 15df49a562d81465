import { expand, type Level, withLead } from "@/core/hours";
import type { FleetPlan, Resource } from "@/core/plan";
import {
  type Amount,
  amountOf,
  computePerSecond,
  costPerSecond,
  countsAt,
  coveredUnitSeconds,
  covers,
  feePerSecond,
  NO_RATE,
  type RateCard,
} from "@/core/pricing";
import type { Hold } from "@/core/rounds";
import { cardAt } from "@/core/spend";
import { HOUR_S, type Instant, MINUTE_S } from "@/core/time";
import type { Prices } from "@/store";
import { type Claim, claimsOf, type StoredWorld } from "../../inventory";
import { cardsOf } from "../cards";

type Window = Readonly<{ now: Instant; from: Instant; to: Instant }>;
type Stretch = Readonly<{ from: Instant; to: Instant; level: Level | null }>;

/** What each hour of `[from, to)` comes to if plans are kept and all else stays as it is, at the prices of now. */
export function hoursToCome(
  world: StoredWorld,
  prices: Prices,
  { holds, window }: { holds: readonly Hold[]; window: Window },
): Map<Instant, Amount> {
  const sums = new Map<Instant, bigint>();
  const kinds = alike(world, prices, { holds, window });
  for (const { one, card, stretches, count } of kinds) {
    for (const { from, to, level } of stretches) addOver(sums, { from, to }, rateOf(one, card, level) * BigInt(count));
  }
  for (const commitment of prices.commitments) {
    if (!countsAt(commitment, window.now)) continue;
    addOver(sums, window, feePerSecond(commitment));
    const covered = kinds.filter(({ one }) => covers(commitment, one));
    const wanted = covered.flatMap(({ one, stretches, count }) =>
      stretches.map(({ from, to, level }) => ({ from, to, level: (level ?? one.level) * count })),
    );
    const rate = covered[0]?.card.perLevel ?? NO_RATE;
    for (let hour = window.from; hour < window.to; hour += HOUR_S) {
      const runs = wanted.flatMap(({ from, to, level }) => {
        const start = Math.max(from, hour);
        const end = Math.min(to, hour + HOUR_S);
        return start < end && level > 0 ? [{ from: start, to: end, level }] : [];
      });
      sums.set(hour, (sums.get(hour) ?? 0n) - amountOf(coveredUnitSeconds(runs, commitment.units), rate));
    }
  }
  return sums as Map<Instant, Amount>;
}

type Alike = { one: Resource; card: RateCard; stretches: readonly Stretch[]; count: number };

/** Resources of an account that cost the same, stand the same and are due the same, once with how many they are. */
function alike(world: StoredWorld, prices: Prices, reading: Reading): Alike[] {
  const cards = cardsOf(prices, world.capabilities);
  const stretchesOf = stretchReader(reading);
  const { now } = reading.window;
  const claims = claimsOf(world);
  const found = new Map<RateCard, Map<readonly Stretch[], Map<string, Alike>>>();
  world.resources.forEach((resource, i) => {
    const card = cardAt(cards(resource, now, now + 1) ?? [], now);
    if (!card) return;
    const stretches = stretchesOf(resource, claims[i] ?? null);
    const byStretches = found.get(card) ?? new Map<readonly Stretch[], Map<string, Alike>>();
    found.set(card, byStretches);
    const byState = byStretches.get(stretches) ?? new Map<string, Alike>();
    byStretches.set(stretches, byState);
    const key = `${resource.fields.account} ${resource.state} ${resource.level}`;
    const known = byState.get(key);
    if (known) known.count++;
    else byState.set(key, { one: resource, card, stretches, count: 1 });
  });
  return [...found.values()].flatMap((byStretches) => [...byStretches.values()].flatMap((byState) => [...byState.values()]));
}

function addOver(sums: Map<Instant, bigint>, { from, to }: { from: Instant; to: Instant }, rate: bigint): void {
  if (rate === 0n) return;
  for (let hour = Math.floor(from / HOUR_S) * HOUR_S; hour < to; hour += HOUR_S) {
    const seconds = Math.min(to, hour + HOUR_S) - Math.max(from, hour);
    sums.set(hour, (sums.get(hour) ?? 0n) + BigInt(seconds) * rate);
  }
}

/** Null: as it is. Whatever is due, disks are billed; addresses by whether it runs. */
function rateOf(resource: Resource, card: RateCard, level: Level | null): bigint {
  if (level === null) return costPerSecond(card, resource);
  if (level === 0) return card.always + card.addressesOff;
  return computePerSecond(card, level) + card.always + card.addressesOn;
}

type Reading = Readonly<{ holds: readonly Hold[]; window: Window }>;

/** The levels of each resource over the window: its hours with their lead, holds laid over them; else as it is. */
function stretchReader({ holds, window }: Reading): (resource: Resource, claim: Claim | null) => readonly Stretch[] {
  const { from, to } = window;
  const asItIs: readonly Stretch[] = [{ from, to, level: null }];
  const known = new Map<string, readonly Stretch[]>();
  const byClaim = new Map<Claim, readonly Stretch[]>();
  const cappedOnce = new Map<readonly Stretch[], Map<string, readonly Stretch[]>>();
  return (resource, claim) => {
    if (!claim || claim.isGuarded) return asItIs;
    const { plan, hours } = claim;
    const highest = resource.kind === "machine" ? 1 : resource.levelMax;
    const byHours = byClaim.get(claim) ?? (hours.kind === "schedule" ? read(plan, hours.compiled) : asItIs);
    byClaim.set(claim, byHours);
    const held = holds.length === 0 ? [] : heldSpans(holds, resource.id, plan.name);
    // What is read once is the same array for all who follow it, so that they are told to be alike.
    if (held.length > 0) return capped(overlaid(byHours, held, window), resource, { highest, plan });
    const key = `${highest} ${plan.starts === "hand" ? resource.level : "any"}`;
    const known = cappedOnce.get(byHours) ?? new Map<string, readonly Stretch[]>();
    cappedOnce.set(byHours, known);
    const stretches = known.get(key) ?? capped(byHours, resource, { highest, plan });
    known.set(key, stretches);
    return stretches;
  };

  function read(plan: FleetPlan, compiled: Parameters<typeof expand>[0]): readonly Stretch[] {
    const key = `${compiled.schedule.name} ${compiled.schedule.zone} ${plan.lead}`;
    const leadS = plan.lead * MINUTE_S;
    const stretches =
      known.get(key) ??
      withLead(expand(compiled, from, to + leadS), leadS)
        .map((stretch) => ({ ...stretch, from: Math.max(from, stretch.from), to: Math.min(to, stretch.to) }))
        .filter((stretch) => stretch.from < stretch.to);
    known.set(key, stretches);
    return stretches;
  }
}

function capped(
  stretches: readonly Stretch[],
  resource: Resource,
  { highest, plan }: { highest: number; plan: FleetPlan },
): readonly Stretch[] {
  return stretches.map(({ level, ...span }) => {
    const most = level === null ? null : (Math.min(level, highest) as Level);
    return { ...span, level: plan.starts === "hand" && most !== null && most > resource.level ? null : most };
  });
}

/** The holds that speak for a resource, the weakest first: its fleet's before its own, older before newer. */
function heldSpans(holds: readonly Hold[], resourceId: string, fleet: string): readonly Stretch[] {
  const own = holds.filter((hold) => hold.resourceId === resourceId || hold.fleet === fleet);
  return own.sort((a, b) => Number(a.fleet === null) - Number(b.fleet === null) || a.id - b.id);
}

/** Stretches with others laid over them, later over earlier, within the window. */
function overlaid(under: readonly Stretch[], over: readonly Stretch[], { from, to }: Window): readonly Stretch[] {
  let result = [...under];
  for (const one of over) {
    const top = { ...one, from: Math.max(from, one.from), to: Math.min(to, one.to) };
    if (top.from >= top.to) continue;
    const parts = result.flatMap((part): Stretch[] => [
      { ...part, to: Math.min(part.to, top.from) },
      { ...part, from: Math.max(part.from, top.to) },
    ]);
    result = [...parts.filter((part) => part.from < part.to), top];
  }
  return result;
}
