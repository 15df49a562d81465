import { asLevel, expandWithLead } from "@/core/hours";
import { columnIn, weekEdges } from "@/core/idle";
import { isGuarded } from "@/core/plan";
import { cardReader, roughlyPerHour } from "@/core/pricing";
import { savedPerSecond } from "@/core/projection";
import { addInUse, byTheMinute, likelyInUse, type PoolWeek, replayPool, suggestedSpare } from "@/core/ready";
import { ROUND_EVERY_S } from "@/core/rounds";
import { DAY_S, type Instant, localTime, MINUTE_S } from "@/core/time";
import { priceBooks } from "@/store";
import { authorise, type Person, RefusedError, type Services } from "../admin";
import { samplesOver, TRIED_DAYS } from "../idle";
import { loadWorld } from "../inventory";
import { type PoolNow, poolsOf, SESSION_METRICS } from "./keep-ready";

/** How many spare machines are tried. */
const SPARES = [0, 1, 2, 3, 4, 5, 6];
const SEED = 1;
const WEEK_S = 7 * DAY_S;

/**
 * What a pool would have come to over its past weeks with so many spare machines: what running costs a month above being off, in
 * the currency, and the part of it with nobody there.
 */
export type TriedSpare = Readonly<{
  spare: number;
  weeks: readonly PoolWeek[];
  costPerMonth: number;
  emptyPerMonth: number;
}>;

export type PoolForecast = Readonly<{
  zone: string;
  machines: number;
  /** The spare machines of the plan in force. */
  spare: number;
  tried: readonly TriedSpare[];
  /** The fewest with which nobody waits on 95 % of the days on which somebody comes; null where none of those tried does. */
  suggested: number | null;
  /** The past weeks, slot by slot, with the plan in force. */
  past: Readonly<{
    firstEnd: Instant;
    stepS: number;
    inUse: readonly number[];
    wanted: readonly number[];
    on: readonly number[];
    waiting: readonly number[];
  }>;
  /** The coming week, slot by slot as the past: who will likely be there, and what is wanted for them. */
  ahead: Readonly<{ inUse: readonly number[]; wanted: readonly number[] }>;
}>;

/** What past sessions make of a pool in force. Throws a RefusedError where there is no such pool. */
export async function poolForecast(services: Services, person: Person, fleet: string): Promise<PoolForecast> {
  authorise(person, "look");
  const [{ now }, world, { history }] = await Promise.all([
    services.clock.read(),
    loadWorld(services),
    priceBooks(services.pool),
  ]);
  const pool = poolsOf(world, now).find(({ plan }) => plan.name === fleet);
  if (!pool?.plan.pooled) throw new RefusedError("not_found", `${fleet} is no pool in force.`);
  const { plan, hours } = pool;
  const { pooled } = pool.plan;
  const members = pool.members.filter((resource) => !isGuarded(resource));
  const samples = await samplesOver(services, members, { metrics: SESSION_METRICS, now, days: TRIED_DAYS });
  const { stepS: slotS, knownFrom } = samples.head;
  const bySlot = new Float64Array(samples.head.count);
  members.forEach((_, i) => {
    const of = (metric: string) => columnIn(samples, metric, i);
    addInUse(bySlot, { active: of(SESSION_METRICS[0]), disconnected: of(SESSION_METRICS[1]) }, { pooled, stepS: slotS });
  });
  const inUse = byTheMinute(bySlot, Math.max(1, Math.round(slotS / MINUTE_S)), SEED);
  const count = inUse.length;
  const stepS = (slotS * bySlot.length) / count;
  const firstEnd = samples.head.firstEnd - slotS + stepS;
  const { zone } = hours.schedule;
  const usual = world.capabilities.get(members[0]?.fields.provider ?? "")?.usualS;
  const startS = plan.offAction === "hibernate" ? (usual?.resume ?? 120) : (usual?.start ?? 120);
  const past = {
    firstEnd,
    stepS,
    inUse,
    hours: countsOver(pool, { from: firstEnd - stepS, stepS, count, all: members.length }),
    machines: members.length,
    // Until the next round nothing is started.
    startSlots: Math.max(1, Math.ceil((startS + ROUND_EVERY_S) / stepS)),
  };
  const to = firstEnd + (count - 1) * stepS;
  const weeks = { edges: weekEdges(zone, { from: knownFrom, to }), dayOf: (t: Instant) => localTime(zone, t).day };
  const cardOf = cardReader(history.bookAt(now), world.capabilities);
  const rates = members.flatMap((resource) => {
    const card = cardOf(resource);
    const line = { ownSize: asLevel(1), canHibernate: plan.offAction === "hibernate" };
    return card ? [roughlyPerHour(savedPerSecond(card, line, plan.offAction === "hibernate"))] : [];
  });
  const hourly = rates.length === 0 ? 0 : rates.reduce((sum, rate) => sum + rate, 0) / rates.length;
  const monthOf = weeks.edges.length > 1 ? 730 / 168 / (weeks.edges.length - 1) : 0;
  const tried = [...new Set([...SPARES, pool.spare])]
    .sort((a, b) => a - b)
    .map((spare): TriedSpare => {
      const replayed = replayPool(past, spare, weeks).weeks;
      const monthly = (hoursOf: (week: PoolWeek) => number) =>
        replayed.reduce((sum, week) => sum + hoursOf(week), 0) * hourly * monthOf;
      return {
        spare,
        weeks: replayed,
        costPerMonth: monthly(({ onHours }) => onHours),
        emptyPerMonth: monthly(({ emptyHours }) => emptyHours),
      };
    });
  const { slots } = replayPool(past, pool.spare, weeks);
  const pictured = thinned(inUse, PICTURE_SLOTS);
  const pictureS = stepS * PICTURE_SLOTS;
  const likely = likelyInUse(pictured, WEEK_S / pictureS);
  const counts = countsOver(pool, { from: to, stepS: pictureS, count: likely.length, all: members.length });
  return {
    zone,
    machines: members.length,
    spare: pool.spare,
    tried,
    suggested: suggestedSpare(tried),
    past: {
      firstEnd: firstEnd + (PICTURE_SLOTS - 1) * stepS,
      stepS: stepS * PICTURE_SLOTS,
      inUse: pictured,
      wanted: thinned(slots.wanted, PICTURE_SLOTS),
      on: thinned(slots.on, PICTURE_SLOTS),
      waiting: mostOf(slots.waiting, PICTURE_SLOTS),
    },
    ahead: {
      inUse: likely,
      wanted: likely.map((people, i) => {
        const byHours = counts[i] as number;
        if (Number.isNaN(byHours)) return people;
        return Math.min(members.length, Math.max(byHours, people + (byHours > 0 ? pool.spare : 0)));
      }),
    },
  };
}

/** How many machines the hours want, slot by slot, by what they say at each slot's end; NaN where they leave them. */
function countsOver(
  { plan, hours }: PoolNow,
  { from, stepS, count, all }: Readonly<{ from: Instant; stepS: number; count: number; all: number }>,
): Float64Array {
  const counts = new Float64Array(count).fill(Number.NaN);
  const to = from + count * stepS;
  for (const span of expandWithLead(hours, { from, to, leadS: plan.lead * MINUTE_S, ownSize: asLevel(all) })) {
    if (span.level === null) continue;
    const first = Math.max(0, Math.ceil((span.from - from) / stepS) - 1);
    for (let i = first; i < count && from + (i + 1) * stepS < span.to; i++) counts[i] = span.level;
  }
  return counts;
}

/** So many slots are one of the picture's: a quarter of an hour. */
const PICTURE_SLOTS = 15;

function thinned(values: Float64Array, of: number): number[] {
  return Array.from({ length: Math.floor(values.length / of) }, (_, i) => values[(i + 1) * of - 1] as number);
}

/** The most of each stretch: nobody's wait is lost in it. */
function mostOf(values: Float64Array, of: number): number[] {
  return Array.from({ length: Math.floor(values.length / of) }, (_, i) => Math.max(...values.subarray(i * of, (i + 1) * of)));
}
