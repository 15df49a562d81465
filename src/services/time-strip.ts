import { expand, type Level, withLead } from "@/core/hours";
import { isGuarded } from "@/core/plan";
import { type AmountPerSecond, amountOf, cardReader, computePerSecond, costPerSecond, microsOf } from "@/core/pricing";
import { type Hold, hoursFinder } from "@/core/rounds";
import { HOUR_S, type Instant, MINUTE_S } from "@/core/time";
import { currentPrices, holdsFrom, runsOf } from "@/store";
import type { Services } from "./context";
import { authorise, type Person } from "./person";
import { compileAll, loadWorld, resourcesByFleet } from "./world";

export const STRIP_HOURS = 24;

/** Money per hour around now: what ran, then what is due to run if plans are kept and all else stays. */
export type TimeStrip = Readonly<{
  now: Instant;
  /** The first instant of the first hour. */
  from: Instant;
  /** One amount an hour, in millionths of the currency; the hour that holds now is the first of the future. */
  micros: readonly number[];
  currency: string;
}>;

/** The 24 hours before the current one and the 24 from it on. */
export async function timeStrip(services: Services, person: Person): Promise<TimeStrip> {
  authorise(person, "look");
  const [{ now }, world, prices] = await Promise.all([services.clock.read(), loadWorld(services), currentPrices(services.pool)]);
  const holds = await holdsFrom(services.pool, now);
  const thisHour = Math.floor(now / HOUR_S) * HOUR_S;
  const from = thisHour - STRIP_HOURS * HOUR_S;
  const to = thisHour + STRIP_HOURS * HOUR_S;
  const sums = new Array<bigint>(2 * STRIP_HOURS).fill(0n);
  const add = (start: Instant, end: Instant, rate: AmountPerSecond) => {
    if (rate === 0n) return;
    for (let hour = Math.floor((start - from) / HOUR_S); hour < sums.length && from + hour * HOUR_S < end; hour++) {
      const seconds = Math.min(end, from + (hour + 1) * HOUR_S) - Math.max(start, from + hour * HOUR_S);
      sums[hour] = (sums[hour] as bigint) + amountOf(seconds, rate);
    }
  };

  const find = hoursFinder(compileAll(world.schedules, world.calendars), world.capabilities);
  const fleetOf = new Map(
    [...resourcesByFleet(world)].flatMap(([name, resources]) => resources.map(({ id }) => [id, name] as const)),
  );
  const plans = new Map(world.fleets.flatMap(({ inForce }) => (inForce ? [[inForce.name, inForce] as const] : [])));
  const runs = await runsOf(
    services.pool,
    world.resources.map(({ id }) => id),
    { from, to: thisHour },
  );
  const cardOf = cardReader(prices, world.capabilities);
  for (const resource of world.resources) {
    const card = cardOf(resource);
    if (!card) continue;
    for (const run of runs.get(resource.id) ?? []) add(run.from, run.to, computePerSecond(card, run.level));
    add(from, to, (card.always + (resource.level > 0 ? card.addressesOn : card.addressesOff)) as AmountPerSecond);

    const plan = plans.get(fleetOf.get(resource.id) ?? "");
    const found = plan && !isGuarded(resource) ? find(resource, plan) : null;
    const asItIs = (costPerSecond(card, resource) -
      card.always -
      (resource.level > 0 ? card.addressesOn : card.addressesOff)) as AmountPerSecond;
    const held = plan && !isGuarded(resource) ? heldSpans(holds, resource.id, plan.name) : [];
    if (found?.kind !== "schedule" && held.length === 0) {
      add(thisHour, to, asItIs);
      continue;
    }
    const highest = resource.kind === "machine" ? 1 : resource.levelMax;
    const leadS = (plan?.lead ?? 0) * MINUTE_S;
    const hours: readonly Stretch[] =
      found?.kind === "schedule"
        ? withLead(expand(found.compiled, thisHour, to + leadS), leadS)
        : [{ from: thisHour, to, level: null }];
    for (const stretch of overlaid(hours, held)) {
      const level = stretch.level === null ? null : Math.min(stretch.level, highest);
      const rate = level === null ? asItIs : computePerSecond(card, level as typeof resource.level);
      add(Math.max(thisHour, stretch.from), Math.min(to, stretch.to), rate);
    }
  }
  return {
    now,
    from,
    micros: sums.map((sum) => Number(microsOf(sum as Parameters<typeof microsOf>[0]))),
    currency: [...world.capabilities.values()][0]?.currency ?? "EUR",
  };
}

type Stretch = Readonly<{ from: Instant; to: Instant; level: Level | null }>;

/** The holds that speak for a resource, the weakest first: its fleet's before its own, older before newer. */
function heldSpans(holds: readonly Hold[], resourceId: string, fleet: string): readonly Stretch[] {
  const own = holds.filter((hold) => hold.resourceId === resourceId || hold.fleet === fleet);
  return own.sort((a, b) => Number(a.fleet === null) - Number(b.fleet === null) || a.id - b.id);
}

/** Stretches with others laid over them, later over earlier. */
function overlaid(under: readonly Stretch[], over: readonly Stretch[]): readonly Stretch[] {
  let result = [...under];
  for (const top of over) {
    const parts = result.flatMap((part): Stretch[] => [
      { ...part, to: Math.min(part.to, top.from) },
      { ...part, from: Math.max(part.from, top.to) },
    ]);
    result = [...parts.filter(({ from, to }) => from < to), top];
  }
  return result;
}
