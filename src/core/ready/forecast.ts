import { weekEdges } from "../idle/worth";
import { ROUND_EVERY_S } from "../rounds/every";
import { type Target, unitsBySlot } from "../targets";
import { DAY_S, hourOfWeek, type Instant, localTime, MINUTE_S, WEEK_HOURS } from "../time";
import { byTheMinute, likelyInUse } from "./past";
import { type PoolPast, type PoolWeek, replayPool, suggestedSpare } from "./replay";

/** How many of a pool's machines were in use over its past weeks, slot by slot. Known from `knownFrom`. */
export type PoolHistory = Readonly<{ firstEnd: Instant; slotS: number; knownFrom: Instant; inUse: readonly number[] }>;

/** What a pool's plan says, as far as its past is replayed under it. */
export type PoolTerms = Readonly<{
  /** How many of them should be on, whoever says so. */
  target: Target;
  /** A number, or what says it over time. */
  spare: number | Target;
  machines: number;
  /** How long a start, or a resume, usually takes. */
  startS: number;
}>;

/** A pool's past weeks laid under its plan. */
export type LaidPool = Readonly<{
  past: PoolPast;
  weeks: Readonly<{ edges: readonly Instant[]; dayOf: (t: Instant) => number }>;
  /** What the plan has spare, slot by slot. */
  spare: Float64Array;
  terms: PoolTerms;
}>;

/** How many spare machines are tried. */
const SPARES = [0, 1, 2, 3, 4, 5, 6];
const SEED = 1;
const WEEK_S = 7 * DAY_S;
const HOURS_OF_MONTH = 730;
const HOURS_OF_WEEK = 168;

/** Lays a pool's past under a plan, by the minute. */
export function layPool({ firstEnd, slotS, knownFrom, inUse: bySlot }: PoolHistory, terms: PoolTerms): LaidPool {
  const inUse = byTheMinute(Float64Array.from(bySlot), Math.max(1, Math.round(slotS / MINUTE_S)), SEED);
  const count = inUse.length;
  const stepS = count === 0 ? MINUTE_S : (slotS * bySlot.length) / count;
  const first = firstEnd - slotS + stepS;
  const span = { from: first - stepS, stepS, count };
  const { target, machines, spare, startS } = terms;
  const { zone } = target;
  return {
    terms,
    past: {
      firstEnd: first,
      stepS,
      inUse,
      hours: unitsBySlot(target, span),
      machines,
      // Until the next round nothing is started.
      startSlots: Math.max(1, Math.ceil((startS + ROUND_EVERY_S) / stepS)),
    },
    weeks: {
      edges: weekEdges(zone, { from: knownFrom, to: first + (count - 1) * stepS }),
      dayOf: (t: Instant) => localTime(zone, t).day,
    },
    spare: typeof spare === "number" ? new Float64Array(count).fill(spare) : unitsBySlot(spare, span),
  };
}

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
  /** What the plan as it is would have come to. */
  own: Omit<TriedSpare, "spare">;
  tried: readonly TriedSpare[];
  /** The fewest with which nobody waits on 95 % of the days on which somebody comes; null where none of those tried does. */
  suggested: number | null;
  /** The past weeks, slot by slot, under the plan. */
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

/** What past sessions make of a pool; `hourly`: what an hour on costs above being off, of a machine in the mean. */
export function forecastPool({ past, weeks, spare, terms }: LaidPool, hourly: number): PoolForecast {
  const { zone } = terms.target;
  const monthOf = weeks.edges.length > 1 ? HOURS_OF_MONTH / HOURS_OF_WEEK / (weeks.edges.length - 1) : 0;
  const worth = (replayed: readonly PoolWeek[]) => {
    const monthly = (hoursOf: (week: PoolWeek) => number) =>
      replayed.reduce((sum, week) => sum + hoursOf(week), 0) * hourly * monthOf;
    return {
      weeks: replayed,
      costPerMonth: monthly(({ onHours }) => onHours),
      emptyPerMonth: monthly(({ emptyHours }) => emptyHours),
    };
  };
  const numbers = typeof terms.spare === "number" ? [...SPARES, terms.spare] : SPARES;
  const tried = [...new Set(numbers)]
    .sort((a, b) => a - b)
    .map((one): TriedSpare => ({ spare: one, ...worth(replayPool(past, one, weeks).weeks) }));
  const { slots, weeks: own } = replayPool(past, spare, weeks);
  const inUse = thinned(past.inUse);
  const pictureS = past.stepS * PICTURE_SLOTS;
  const likely = likelyInUse(inUse, WEEK_S / pictureS);
  const ahead = { from: past.firstEnd + (past.inUse.length - 1) * past.stepS, stepS: pictureS, count: likely.length };
  const counts = unitsBySlot(terms.target, ahead);
  const spareAhead = typeof terms.spare === "number" ? null : unitsBySlot(terms.spare, ahead);
  return {
    zone,
    machines: terms.machines,
    own: worth(own),
    tried,
    suggested: suggestedSpare(tried),
    past: {
      firstEnd: past.firstEnd + (PICTURE_SLOTS - 1) * past.stepS,
      stepS: pictureS,
      inUse,
      wanted: thinned(slots.wanted),
      on: thinned(slots.on),
      waiting: mostOf(slots.waiting),
    },
    ahead: {
      inUse: likely,
      wanted: likely.map((people, i) => {
        const byHours = counts[i] as number;
        if (Number.isNaN(byHours)) return people;
        const more = spareAhead ? spareAhead[i] || 0 : (terms.spare as number);
        return Math.min(terms.machines, Math.max(byHours, people + (byHours > 0 ? more : 0)));
      }),
    },
  };
}

/** Seconds on more than the hours alone, fewer below 0: in each past week, and by UTC hour of the week in their mean. */
export type PlaceOver = Readonly<{ onS: readonly number[]; byHour: readonly number[] }>;

/** What those in use and the spare ones bring above the hours, by place. Without a whole week, no week. */
export function peopleOver({ past, weeks, spare, terms }: LaidPool): readonly PlaceOver[] {
  const { edges } = weeks;
  const count = Math.max(0, edges.length - 1);
  const places = Array.from({ length: terms.machines }, () => ({
    onS: new Array<number>(count).fill(0),
    byHour: new Array<number>(WEEK_HOURS).fill(0),
  }));
  const { slots } = replayPool(past, spare, weeks);
  let week = 0;
  for (let i = 0; i < past.inUse.length; i++) {
    const end = past.firstEnd + i * past.stepS;
    if (!(end > (edges[0] ?? Number.POSITIVE_INFINITY))) continue;
    while (week < edges.length - 1 && end > (edges[week + 1] as number)) week++;
    const byHours = past.hours[i] as number;
    if (week >= edges.length - 1 || Number.isNaN(byHours)) continue;
    const billed = Math.min(terms.machines, slots.billed[i] as number);
    const sign = billed > byHours ? 1 : -1;
    for (let place = Math.min(billed, byHours); place < Math.min(terms.machines, Math.max(billed, byHours)); place++) {
      const { onS, byHour } = places[place] as (typeof places)[number];
      const hour = hourOfWeek(end - past.stepS);
      onS[week] = (onS[week] as number) + sign * past.stepS;
      byHour[hour] = (byHour[hour] as number) + (sign * past.stepS) / count;
    }
  }
  return places;
}

/** So many slots are one of the picture's: a quarter of an hour. */
const PICTURE_SLOTS = 15;

function thinned(values: Float64Array): number[] {
  return Array.from(
    { length: Math.floor(values.length / PICTURE_SLOTS) },
    (_, i) => values[(i + 1) * PICTURE_SLOTS - 1] as number,
  );
}

/** The most of each stretch: nobody's wait is lost in it. */
function mostOf(values: Float64Array): number[] {
  return Array.from({ length: Math.floor(values.length / PICTURE_SLOTS) }, (_, i) =>
    Math.max(...values.subarray(i * PICTURE_SLOTS, (i + 1) * PICTURE_SLOTS)),
  );
}
