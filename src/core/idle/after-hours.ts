import type { Instant } from "../time";
import type { HoursOver } from "./machine";
import { type Column, columnOf, type Slots } from "./slots";

/** Samples as they would be if hours had the machine, and the instants at which hours start it. */
export type AfterHours = Readonly<{ slots: Slots; starts: readonly Instant[] }>;

/**
 * Samples after hours (docs/model.md, Idle alarms: backtest): a slot any minute of which lies where the level of the hours is 0
 * has no values, and a rise from there is a start.
 */
export function afterHours(slots: Slots, hours: HoursOver): AfterHours {
  const known = KEPT.get(slots) ?? new WeakMap<HoursOver, AfterHours>();
  KEPT.set(slots, known);
  const made = known.get(hours) ?? make(slots, hours);
  known.set(hours, made);
  return made;
}

/** Made once for all rules that are tried on the same samples by the same hours. */
const KEPT = new WeakMap<Slots, WeakMap<HoursOver, AfterHours>>();

function make(slots: Slots, { rises, spans }: HoursOver): AfterHours {
  const { stepS, firstEnd, count } = slots;
  const isOff = new Uint8Array(count);
  const fallen = new Set<Instant>();
  for (const { from, to, level } of spans) {
    if (level !== 0) continue;
    fallen.add(to);
    // A slot covers the step before its end.
    const first = Math.max(0, Math.floor((from - firstEnd) / stepS) + 1);
    const last = Math.min(count - 1, Math.ceil((to - firstEnd) / stepS));
    if (first <= last) isOff.fill(1, first, last + 1);
  }
  const columns = new Map([...slots.columns].map(([metric, column]) => [metric, without(column, isOff)]));
  return { slots: { stepS, firstEnd, count, columns }, starts: rises.filter((t) => fallen.has(t)) };
}

function without({ values, exact }: Column, isOff: Uint8Array): Column {
  const kept = values.map((value, i) => (isOff[i] === 1 ? Number.NaN : value));
  return columnOf(kept, exact === null ? null : exact.map((value, i) => (isOff[i] === 1 ? null : value)));
}
