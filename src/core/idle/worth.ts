import { DAY_S, HOUR_S, hourOfWeek, type Instant, localTime, resolveLocal, WEEK_HOURS } from "../time";
import { afterHours } from "./after-hours";
import { type Blocks, blocksOf } from "./blocks";
import type { HoursOver } from "./machine";
import { type Replayed, replay, type Trip } from "./replay";
import type { IdleRule } from "./rule";
import type { Slots } from "./slots";

const WEEK_DAYS = 7;

/** The edges of the whole local weeks, Monday to Monday, inside a span; empty where there is none. */
export function weekEdges(zone: string, { from, to }: Readonly<{ from: Instant; to: Instant }>): readonly Instant[] {
  const first = localTime(zone, from).day;
  // Day 4 since 1970 was a Monday.
  const monday = first + ((((4 - first) % WEEK_DAYS) + WEEK_DAYS) % WEEK_DAYS);
  const edges: Instant[] = [];
  for (let day = monday; ; day += WEEK_DAYS) {
    const edge = resolveLocal(zone, day, 0);
    if (edge > to) break;
    if (edge >= from) edges.push(edge);
  }
  return edges.length > 1 ? edges : [];
}

/** What the rules of a fleet make of one resource, week by week: seconds off that nothing else turns off, and interruptions. */
export type WeeklyWorth = Readonly<{
  offS: readonly number[];
  interruptions: readonly number[];
  replays: readonly Replayed[];
  /** Seconds off in each of the 168 UTC hours of a week, Monday 00:00 first: the mean of the weeks. Made when it is asked for. */
  byHour: () => readonly number[];
  /** The same of the seconds in which it would have been on without the rules. */
  onByHour: () => readonly number[];
}>;

/**
 * Replays several rules over the samples of one resource as hours would have had it, and adds up, by week, the time it would have been off: never
 * twice, only where hours leave it on, and where hours leave it alone, or are started by hand, only while it ran.
 */
export function weeklyWorth(
  rules: readonly IdleRule[],
  { slots: sampled, hours, isByHand = false }: Readonly<{ slots: Slots; hours: HoursOver | null; isByHand?: boolean }>,
  edges: readonly Instant[],
): WeeklyWorth {
  const slots = hours ? afterHours(sampled, hours).slots : sampled;
  const { ran, blocks } = keptOf(slots);
  const replays = rules.map((rule) => replay(rule, sampled, hours, { blocks, isAfterHours: true }));
  const weeks = Math.max(0, edges.length - 1);
  const offS = new Array<number>(weeks).fill(0);
  const interruptions = new Array<number>(weeks).fill(0);
  const end = slots.firstEnd + (slots.count - 1) * slots.stepS;
  const trips = replays.flatMap(({ trips: own }, r) => (rules[r]?.action === "tell" ? [] : own));
  const union = unionOf(trips, end);
  for (const { from, to } of union) {
    for (let w = 0; w < weeks; w++) {
      const [begin, stop] = [Math.max(from, edges[w] as number), Math.min(to, edges[w + 1] as number)];
      if (begin < stop) offS[w] = (offS[w] as number) + secondsOn({ from: begin, to: stop }, { slots, hours, isByHand, ran });
    }
  }
  for (const trip of trips) {
    const w = weekOf(edges, trip.backAt ?? end);
    if (w < 0) continue;
    // Starting again takes its minutes.
    if (trip.startS > 0) offS[w] = Math.max(0, (offS[w] as number) - trip.startS);
    if (trip.interruption) interruptions[w] = (interruptions[w] as number) + 1;
  }
  const byHour = () => hoursOfWeek(union, edges, (window) => secondsOn(window, { slots, hours, isByHand, ran }));
  const whole = { from: edges[0] ?? 0, to: edges.at(-1) ?? 0 };
  const onByHour = () => hoursOfWeek([whole], edges, (window) => secondsOn(window, { slots, hours, isByHand, ran }));
  return { offS, interruptions, replays, byHour, onByHour };
}

/** What is counted of windows in each UTC hour of the week, in the mean of the weeks between the edges. */
function hoursOfWeek(windows: readonly Window[], edges: readonly Instant[], secondsIn: (window: Window) => number): number[] {
  const sums = new Array<number>(WEEK_HOURS).fill(0);
  const [first, last] = [edges[0] ?? 0, edges.at(-1) ?? 0];
  for (const window of windows) {
    const [from, to] = [Math.max(first, window.from), Math.min(last, window.to)];
    for (let at = from; at < to; ) {
      const next = Math.min(to, (Math.floor(at / HOUR_S) + 1) * HOUR_S);
      const hour = hourOfWeek(at);
      sums[hour] = (sums[hour] as number) + secondsIn({ from: at, to: next });
      at = next;
    }
  }
  const weeks = Math.max(1, edges.length - 1);
  return sums.map((sum) => sum / weeks);
}

function weekOf(edges: readonly Instant[], t: Instant): number {
  for (let w = 0; w + 1 < edges.length; w++) if ((edges[w] as number) < t && t <= (edges[w + 1] as number)) return w;
  return -1;
}

type Window = Readonly<{ from: Instant; to: Instant }>;

function unionOf(trips: readonly Trip[], end: Instant): Window[] {
  const windows = trips.map(({ trippedAt, backAt }) => ({ from: trippedAt, to: backAt ?? end })).sort((a, b) => a.from - b.from);
  const union: { from: Instant; to: Instant }[] = [];
  for (const window of windows) {
    const last = union.at(-1);
    if (last && window.from <= last.to) last.to = Math.max(last.to, window.to);
    else union.push({ ...window });
  }
  return union;
}

/** Made once for all rules that are tried on the same samples. */
type Kept = Readonly<{
  /** How many slots had a sample of anything, up to each: while it ran. */
  ran: Int32Array;
  blocks: Blocks;
}>;

const KEPT = new WeakMap<Slots, Kept>();

function keptOf(slots: Slots): Kept {
  const kept = KEPT.get(slots) ?? { ran: countRan(slots), blocks: blocksOf() };
  KEPT.set(slots, kept);
  return kept;
}

function countRan({ count, columns }: Slots): Int32Array {
  const ran = new Int32Array(count + 1);
  const all = [...columns.values()];
  for (let i = 0; i < count; i++)
    ran[i + 1] = (ran[i] as number) + (all.some(({ values }) => !Number.isNaN(values[i] as number)) ? 1 : 0);
  return ran;
}

type Known = Readonly<{ slots: Slots; hours: HoursOver | null; isByHand: boolean; ran: Int32Array }>;

/** Seconds of a window in which it would have been on without the rules. */
function secondsOn({ from, to }: Window, { slots, hours, isByHand, ran }: Known): number {
  const ranIn = (begin: Instant, stop: Instant): number => {
    const slotAt = (t: Instant) =>
      Math.min(slots.count, Math.max(0, Math.round((t - (slots.firstEnd - slots.stepS)) / slots.stepS)));
    return ((ran[slotAt(stop)] as number) - (ran[slotAt(begin)] as number)) * slots.stepS;
  };
  if (!hours) return ranIn(from, to);
  let seconds = 0;
  for (const span of hours.spans) {
    if (span.to <= from) continue;
    if (span.from >= to) break;
    const [begin, stop] = [Math.max(from, span.from), Math.min(to, span.to)];
    // Hours that only ever lower leave on what somebody had started.
    if (span.level === null || (isByHand && span.level > 0)) seconds += ranIn(begin, stop);
    else if (span.level > 0) seconds += stop - begin;
  }
  return seconds;
}

export type Percentiles = Readonly<{ p5: number; p50: number; p95: number }>;

const DRAWS = 1_000;

/**
 * The spread of a sum over a span of seconds, from what it came to in each of past weeks: 1,000 draws of as many whole weeks as the
 * span begins, with replacement, the last counted by how much of it lies inside. The same seed gives the same answer.
 */
export function spreadOver(weekly: readonly number[], spanS: number, seed: number): Percentiles {
  if (weekly.length === 0) return { p5: 0, p50: 0, p95: 0 };
  const weekS = WEEK_DAYS * DAY_S;
  const whole = Math.floor(spanS / weekS);
  const rest = spanS / weekS - whole;
  const next = randomFrom(seed);
  const pick = () => weekly[Math.floor(next() * weekly.length)] as number;
  const sums = Float64Array.from({ length: DRAWS }, () => {
    let sum = 0;
    for (let i = 0; i < whole; i++) sum += pick();
    return rest > 0 ? sum + rest * pick() : sum;
  }).sort();
  const rank = (p: number) => sums[Math.ceil((DRAWS * p) / 100) - 1] as number;
  return { p5: rank(5), p50: rank(50), p95: rank(95) };
}

/** Numbers in [0, 1) from a seed (mulberry32, public domain). */
function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}
