import { type Instant, MINUTE_S } from "../time";
import { afterHours } from "./after-hours";
import type { Blocks } from "./blocks";
import { type Course, type HoursOver, runCourse } from "./machine";
import { firstOf, firstUnmet, type Means, meanVerdicts, verdictsIn } from "./means";
import { microsOf } from "./micros";
import { AFTER_SESSIONS, type Condition, type IdleRule, metricsOf, SESSIONS_ACTIVE } from "./rule";
import { type Column, columnOf, type Slots } from "./slots";
import { countsOf, ELSEWHEN, failing, HOLDS, metBy, NOT, NOTHING, overWindows, saidBySample, slotsIn, sumsOf } from "./verdicts";

/** A trip of a replay; instants. `backAt` is null where nobody and no hours brought it back. Off times in seconds. */
export type Trip = Readonly<{
  warnedAt: Instant;
  trippedAt: Instant;
  backAt: Instant | null;
  interruption: boolean;
  offS: number;
  offDueS: number;
  /** What starting again took of it. */
  startS: number;
}>;

export type Replayed = Readonly<{ trips: readonly Trip[] } & Sums>;
/** What a replay comes to. Off times in seconds; `offDueS` is the part in which hours leave it on. */
export type Sums = Readonly<{ tripCount: number; offS: number; offDueS: number; interruptions: number }>;

/** The metrics that a replay of a rule reads: those of its conditions, and the active sessions that say of others whether somebody is there. */
export function metricsRead(rule: Pick<IdleRule, "conditions">): readonly string[] {
  const own = metricsOf(rule);
  return own.some((metric) => AFTER_SESSIONS.includes(metric)) ? [...new Set([...own, SESSIONS_ACTIVE])] : own;
}

export type Replaying = Readonly<{
  /** Held by who tries many thresholds. */
  blocks?: Blocks | null;
  /** The machine is on where hours have it on alone, and each rise from off is a start; the off time is what hours leave on. */
  isAfterHours?: boolean;
}>;

/** Replays a rule over the samples of one resource (docs/model.md, Idle alarms: backtest). Without hours all off time counts as due. */
export function replay(
  rule: IdleRule,
  sampled: Slots,
  hours: HoursOver | null,
  { blocks = null, isAfterHours = false }: Replaying = {},
): Replayed {
  const after = hours && isAfterHours ? afterHours(sampled, hours) : null;
  const slots = after?.slots ?? sampled;
  const sums = { tripCount: 0, offS: 0, offDueS: 0, interruptions: 0 };
  const trips: Trip[] = [];
  const reading = readingOf(rule, slots, hours);
  const over = once(() => reading.conditions.map((one) => overWindow(one, rule, slots)));
  const course = courseOf(rule, reading, { over, blocks });
  runCourse(after ? { ...course, starts: after.starts } : course, (trip) => {
    const { offS, ...whole } = countTrip(sums, trip, { rule, slots, hours });
    trips.push({
      warnedAt: trip.warnedAt,
      trippedAt: trip.trippedAt,
      backAt: trip.backAt,
      offS: after ? whole.offDueS : offS,
      ...whole,
    });
  });
  return { trips, ...sums, offS: after ? sums.offDueS : sums.offS };
}

/** What is read of the samples for a rule whatever its windows are; and, of each condition, what its threshold makes of them. */
export type Reading = Readonly<{
  slots: Slots;
  hours: HoursOver | null;
  conditions: readonly ConditionRead[];
  /** NOTHING where no metric of the rule has a value, ELSEWHEN where the rule does not apply, else NOT. Made when it is asked for. */
  ground: () => Uint8Array;
  /** The rule has one condition and always applies: what its samples are is all that there is. */
  isPlain: boolean;
}>;

export type ConditionRead = Readonly<{
  condition: Condition;
  column: Column;
  /** Sample by sample whether it meets the threshold, and what it says of the onset. Made when it is asked for. */
  met: () => Uint8Array;
  said: () => Uint8Array;
  counts: Int32Array;
  sums: Float64Array | readonly bigint[] | null;
}>;

/** Reads the samples for a rule. Throws where a column is missing: whoever calls says so before. */
export function readingOf(rule: IdleRule, slots: Slots, hours: HoursOver | null): Reading {
  const conditions = rule.conditions.map((condition) => readCondition(condition, slots));
  return {
    slots,
    hours,
    conditions,
    ground: once(() => groundOf(rule, { slots, hours })),
    isPlain: conditions.length === 1 && (rule.applies === "always" || !hours),
  };
}

export function once<T>(make: () => T): () => T {
  let made: T | null = null;
  return () => {
    made ??= make();
    return made;
  };
}

export function readCondition(condition: Condition, slots: Slots): ConditionRead {
  const column = slots.columns.get(condition.metric) ?? columnOf(new Float64Array(slots.count).fill(Number.NaN));
  const sums = condition.statistic === "mean" ? sumsOf(column) : null;
  return { column, counts: countsOf(column), sums, ...thresholdRead(condition, column, slots) };
}

/** The same samples with another threshold. */
export function withThreshold(read: ConditionRead, threshold: number, slots: Slots): ConditionRead {
  return { ...read, ...thresholdRead({ ...read.condition, threshold }, read.column, slots) };
}

function thresholdRead(condition: Condition, column: Column, slots: Slots): Pick<ConditionRead, "condition" | "met" | "said"> {
  const met = once(() => metBy(column, condition));
  return { condition, met, said: once(() => saidBySample(condition, met(), slots)) };
}

/** The first slot from one on whose sample says by itself that somebody came. */
export function failingFrom(rule: IdleRule, { conditions, slots }: Reading, blocks: Blocks | null): (from: number) => number {
  const [only] = conditions;
  const isBySessions = AFTER_SESSIONS.includes(only?.condition.metric ?? "") && slots.columns.has(SESSIONS_ACTIVE);
  if (only && conditions.length === 1 && only.column.exact === null && !isBySessions)
    return firstUnmet(only.column.values, only.condition, blocks?.furthest(only.column.values, only.condition) ?? null);
  const fails = failing(
    rule,
    conditions.map(({ said }) => said()),
  );
  return (from) => firstOf(fails, NOT, from);
}

function groundOf(rule: IdleRule, { slots, hours }: Pick<Reading, "slots" | "hours">): Uint8Array {
  const ground = new Uint8Array(slots.count);
  // Hot: what is imported is looked up anew each time where nothing bundles it.
  const not = NOT;
  for (const metric of metricsOf(rule)) {
    const values = slots.columns.get(metric)?.values;
    if (values) for (let i = 0; i < ground.length; i++) if (!Number.isNaN(values[i] as number)) ground[i] = not;
  }
  if (rule.applies === "always" || !hours) return ground;
  const isInside = rule.applies === "inside";
  let span = 0;
  for (let i = 0; i < ground.length; i++) {
    if (ground[i] === NOTHING) continue;
    const at = slots.firstEnd + i * slots.stepS;
    while ((hours.spans[span]?.to ?? Number.POSITIVE_INFINITY) <= at) span++;
    const isOn = (hours.spans[span]?.level ?? 0) > 0;
    if (isOn !== isInside) ground[i] = ELSEWHEN;
  }
  return ground;
}

/** A condition over its window: 1 where it holds. */
export function overWindow(
  { condition, met, counts, sums }: ConditionRead,
  { coverage }: IdleRule,
  { stepS }: Slots,
): Uint8Array {
  return overWindows(condition, met, { stepS, coverage, counts, sums });
}

/** What `meanVerdicts` needs, where a reading is such that it can be asked; null where it is not. */
export function plainMeans({ isPlain, conditions, slots }: Reading, { coverage }: IdleRule): Means | null {
  const [only] = conditions;
  if (!isPlain || !only || !(only.sums instanceof Float64Array)) return null;
  const { condition, counts, sums } = only;
  const isExact = Math.abs(microsOf(condition.threshold)) * slotsIn(condition.window, slots.stepS) <= Number.MAX_SAFE_INTEGER;
  return isExact ? { condition, stepS: slots.stepS, coverage, counts, sums } : null;
}

/** The course of a rule; `over` is what its conditions say over their windows. */
export function courseOf(
  rule: IdleRule,
  reading: Reading,
  { over, blocks }: Readonly<{ over: () => readonly Uint8Array[]; blocks: Blocks | null }>,
): Course {
  const { slots, hours, ground, conditions } = reading;
  const { stepS, firstEnd, count } = slots;
  const isAll = rule.match === "all";
  const windows = conditions.map(({ condition }) => slotsIn(condition.window, stepS) * stepS);
  const settleS = rule.settle * MINUTE_S;
  const means = plainMeans(reading, rule);
  const longest = Math.max(...windows);
  return {
    stepS,
    firstEnd,
    count,
    verdicts: means ? meanVerdicts(means, blocks?.extremes(means) ?? null) : verdictsIn(verdictsOf(ground(), over(), isAll)),
    trustedAfterS: Math.max(settleS, longest),
    blindForS: Math.max(settleS, isAll ? longest : Math.min(...windows)),
    near: (slot, startedAt) => {
      const own = ground()[slot] as number;
      if (own !== NOT) return own;
      const end = firstEnd + slot * stepS;
      if (end - startedAt < settleS) return NOT;
      const holdsIn = (one: Uint8Array, k: number) => one[slot] === 1 && end - (windows[k] as number) >= startedAt;
      return (isAll ? over().every(holdsIn) : over().some(holdsIn)) ? HOLDS : NOT;
    },
    firstFailing: failingFrom(rule, reading, blocks),
    rises: hours?.rises ?? [],
    starts: [],
    warnS: rule.warn * MINUTE_S,
    isTell: rule.action === "tell",
  };
}

function verdictsOf(ground: Uint8Array, over: readonly Uint8Array[], isAll: boolean): Uint8Array {
  const verdicts = ground.slice();
  const not = NOT;
  const conditions = over.length;
  for (let i = 0; i < verdicts.length; i++) {
    if (verdicts[i] !== not) continue;
    let holding = 0;
    for (let k = 0; k < conditions; k++) holding += (over[k] as Uint8Array)[i] as number;
    if (isAll ? holding === conditions : holding > 0) verdicts[i] = not + 1;
  }
  return verdicts;
}

type Found = Readonly<{ trippedAt: Instant; backAt: Instant | null; byOnset: boolean }>;
type Counting = Readonly<{ rule: IdleRule; slots: Slots; hours: HoursOver | null }>;

/** Counts a trip into sums and says what it came to. */
export function countTrip(
  sums: { tripCount: number; offS: number; offDueS: number; interruptions: number },
  { trippedAt, backAt, byOnset }: Found,
  { rule, slots, hours }: Counting,
): Pick<Trip, "interruption" | "offS" | "offDueS" | "startS"> {
  sums.tripCount++;
  if (rule.action === "tell") return { interruption: false, offS: 0, offDueS: 0, startS: 0 };
  const end = backAt ?? slots.firstEnd + (slots.count - 1) * slots.stepS;
  const startS = byOnset ? rule.startMinutes * MINUTE_S : 0;
  const offS = Math.max(0, end - trippedAt - startS);
  const offDueS = hours ? Math.max(0, dueSeconds(hours, trippedAt, end) - startS) : offS;
  const interruption = byOnset && end - trippedAt <= rule.interruptionWithin * MINUTE_S;
  sums.offS += offS;
  sums.offDueS += offDueS;
  if (interruption) sums.interruptions++;
  return { interruption, offS, offDueS, startS };
}

/** Seconds of a stretch in which hours want it on, or leave it. */
function dueSeconds({ spans }: HoursOver, from: Instant, to: Instant): number {
  let [low, high] = [0, spans.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((spans[middle] as (typeof spans)[number]).to <= from) low = middle + 1;
    else high = middle;
  }
  let seconds = 0;
  for (let i = low; i < spans.length; i++) {
    const span = spans[i] as (typeof spans)[number];
    if (span.from >= to) break;
    if (span.level !== 0) seconds += Math.min(to, span.to) - Math.max(from, span.from);
  }
  return seconds;
}
