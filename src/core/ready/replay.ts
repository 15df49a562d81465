import type { Instant } from "../time";

/** A pool over past slots: what people needed, and what its plan wants. Slot i ends at `firstEnd + i * stepS`. */
export type PoolPast = Readonly<{
  firstEnd: Instant;
  stepS: number;
  /** Machines in use, slot by slot; NaN where nothing is known. */
  inUse: Float64Array;
  /** How many the hours want, slot by slot, lead counted; NaN where they leave them. */
  hours: Float64Array;
  machines: number;
  /** How long a start takes, in slots, at least one. */
  startSlots: number;
}>;

/** What a pool would have come to, week by week (docs/model.md, Ready machines). Machine-hours. */
export type PoolWeek = Readonly<{
  onHours: number;
  /** On with nobody at it, starts counted. */
  emptyHours: number;
  /** Times somebody came and no free machine was on. */
  waits: number;
  waitMinutes: number;
  /** Days on which somebody waited. */
  daysWaited: number;
  /** Days on which somebody came. */
  days: number;
}>;

/** Slot by slot: machines up, paid for (starts counted), wanted, and people without one. */
export type PoolSlots = Readonly<{ on: Float64Array; billed: Float64Array; wanted: Float64Array; waiting: Float64Array }>;

/**
 * Replays a pool with so many spare machines (always, or slot by slot; NaN is none), slot by slot: who finds no machine waits until one has started; what is wanted is
 * started, what is not and nobody uses goes off. `edges`: where weeks begin; `dayOf`: the local day of an instant.
 */
export function replayPool(
  past: PoolPast,
  spare: number | Float64Array,
  { edges, dayOf }: Readonly<{ edges: readonly Instant[]; dayOf: (t: Instant) => number }>,
): Readonly<{ weeks: readonly PoolWeek[]; slots: PoolSlots }> {
  const { firstEnd, stepS, inUse, hours, machines, startSlots } = past;
  const count = inUse.length;
  const slots = {
    on: new Float64Array(count),
    billed: new Float64Array(count),
    wanted: new Float64Array(count),
    waiting: new Float64Array(count),
  };
  const weeks = Array.from({ length: Math.max(0, edges.length - 1) }, () => ({
    onHours: 0,
    emptyHours: 0,
    waits: 0,
    waitMinutes: 0,
    daysWaited: 0,
    days: 0,
  }));
  /** Machines that are up; those that come up at each slot. */
  let up = -1;
  const coming = new Float64Array(count + startSlots + 1);
  let onTheWay = 0;
  let waitingBefore = 0;
  let week = 0;
  let [dayWaited, dayCame] = [Number.NaN, Number.NaN];
  const slotHours = stepS / 3600;
  for (let i = 0; i < count; i++) {
    const end = firstEnd + i * stepS;
    const people = Number.isNaN(inUse[i] as number) ? 0 : Math.min(machines, inUse[i] as number);
    const byHours = hours[i] as number;
    const isLeft = Number.isNaN(byHours);
    const kept = typeof spare === "number" ? spare : spare[i] || 0;
    const wanted = isLeft ? Math.max(people, up) : Math.min(machines, Math.max(byHours, people + (byHours > 0 ? kept : 0)));
    if (up < 0) up = wanted;
    up += coming[i] as number;
    onTheWay -= coming[i] as number;
    const waiting = Math.max(0, people - up);
    if (up + onTheWay < wanted) {
      const missing = wanted - up - onTheWay;
      coming[i + startSlots] = (coming[i + startSlots] as number) + missing;
      onTheWay += missing;
    } else if (up > wanted) up = Math.max(wanted - onTheWay, Math.min(up, people), 0);
    slots.on[i] = up;
    slots.billed[i] = up + onTheWay;
    slots.wanted[i] = wanted;
    slots.waiting[i] = waiting;
    const came = Math.max(0, waiting - waitingBefore);
    waitingBefore = waiting;
    while (week < weeks.length && end > (edges[week + 1] as number)) week++;
    const own = end > (edges[0] ?? Number.POSITIVE_INFINITY) ? weeks[week] : undefined;
    if (!own) continue;
    own.onHours += (up + onTheWay) * slotHours;
    own.emptyHours += (up + onTheWay - Math.min(up, people)) * slotHours;
    own.waits += came;
    own.waitMinutes += (waiting * stepS) / 60;
    const day = dayOf(end - 1);
    if (people > 0 && day !== dayCame) {
      own.days++;
      dayCame = day;
    }
    if (came > 0 && day !== dayWaited) {
      own.daysWaited++;
      dayWaited = day;
    }
  }
  return { weeks, slots };
}

/** The fewest spare machines with which nobody waits on so large a share of the days on which somebody comes; null where none of those tried does. */
export function suggestedSpare(
  tried: readonly Readonly<{ spare: number; weeks: readonly Pick<PoolWeek, "days" | "daysWaited">[] }>[],
  share = 0.95,
): number | null {
  for (const { spare, weeks } of [...tried].sort((a, b) => a.spare - b.spare)) {
    const days = weeks.reduce((sum, one) => sum + one.days, 0);
    const waited = weeks.reduce((sum, one) => sum + one.daysWaited, 0);
    if (days > 0 && (days - waited) / days >= share) return spare;
  }
  return null;
}
