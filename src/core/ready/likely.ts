import { type Target, unitsBySlot } from "../targets";
import { DAY_S, HOUR_S, type Instant, localTime, weekdayIndex } from "../time";
import type { PoolHistory } from "./forecast";

/** So long is a slot of what is likely: a quarter of an hour. */
export const LIKELY_STEP_S = HOUR_S / 4;
const QUARTERS_OF_DAY = DAY_S / LIKELY_STEP_S;
const QUARTERS_OF_WEEK = 7 * QUARTERS_OF_DAY;

/** How many of a pool's machines were in use in each quarter of past local weeks, Monday 00:00 first; null where nothing is known. */
export type PoolUse = readonly (readonly (number | null)[])[];

/** Past use by the quarters of local weeks, the mean of each, from where it is known. */
export function poolUse({ firstEnd, slotS, knownFrom, inUse }: PoolHistory, zone: string): PoolUse {
  const weeks = new Map<number, { sums: number[]; counts: number[] }>();
  inUse.forEach((count, i) => {
    const begin = firstEnd + (i - 1) * slotS;
    if (begin < knownFrom) return;
    const { week, quarter } = quarterOf(zone, begin);
    const own = weeks.get(week) ?? {
      sums: new Array<number>(QUARTERS_OF_WEEK).fill(0),
      counts: new Array<number>(QUARTERS_OF_WEEK).fill(0),
    };
    weeks.set(week, own);
    own.sums[quarter] = (own.sums[quarter] as number) + count;
    own.counts[quarter] = (own.counts[quarter] as number) + 1;
  });
  return [...weeks.values()].map(({ sums, counts }) =>
    sums.map((sum, q) => ((counts[q] as number) > 0 ? sum / (counts[q] as number) : null)),
  );
}

function quarterOf(zone: string, t: Instant): { week: number; quarter: number } {
  const { day, second } = localTime(zone, t);
  const weekday = weekdayIndex(day);
  return {
    week: Math.floor((day - weekday) / 7),
    quarter: weekday * QUARTERS_OF_DAY + Math.min(QUARTERS_OF_DAY - 1, Math.floor(second / LIKELY_STEP_S)),
  };
}

/** What says how many of a pool should be on, and how many more than those in use. */
export type LikelyTerms = Readonly<{ target: Target; spare: number | Target; machines: number }>;

/**
 * How many of a pool's machines will likely be on over quarters of an hour from `from` on: the mean, over the past weeks, of what
 * the plan would have wanted for those who were there at that time of the week (docs/model.md, Ready machines: projection).
 */
export function likelyUnits(
  use: PoolUse,
  { target, spare, machines }: LikelyTerms,
  { from, count }: Readonly<{ from: Instant; count: number }>,
): number[] {
  // What counts at a slot's end counts for it: the end of the last is in the one after it.
  const span = { from, stepS: LIKELY_STEP_S, count: count + 1 };
  const byHours = unitsBySlot(target, span);
  const more = typeof spare === "number" ? null : unitsBySlot(spare, span);
  return Array.from({ length: count }, (_, i) => {
    const { quarter } = quarterOf(target.zone, from + i * LIKELY_STEP_S);
    const known = use.flatMap((week) => week[quarter] ?? []);
    const hours = byHours[i] as number;
    const spareNow = typeof spare === "number" ? spare : more?.[i] || 0;
    const wanted = (people: number) =>
      Number.isNaN(hours) ? people : Math.min(machines, Math.max(hours, people + (hours > 0 ? spareNow : 0)));
    if (known.length === 0) return wanted(0);
    return known.reduce((sum, people) => sum + wanted(people), 0) / known.length;
  });
}

/** Whole units that come to the same over time: what is left of a part is carried into the next slot. */
export function wholeUnits(likely: readonly number[]): number[] {
  let carried = 0;
  return likely.map((units) => {
    const whole = Math.max(0, Math.round(units + carried));
    carried += units - whole;
    return whole;
  });
}
