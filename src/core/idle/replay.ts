import { type Instant, MINUTE_S } from "../time";
import { type Course, type HoursOver, runCourse } from "./machine";
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

/** Replays a rule over the samples of one resource (docs/model.md, Idle alarms: backtest). Without hours all off time counts as due. */
export function replay(rule: IdleRule, slots: Slots, hours: HoursOver | null): Replayed {
  const sums = { tripCount: 0, offS: 0, offDueS: 0, interruptions: 0 };
  const trips: Trip[] = [];
  const reading = readingOf(rule, slots, hours);
  runCourse(
    courseOf(
      rule,
      reading,
      reading.conditions.map((one) => overWindow(one, rule, slots)),
    ),
    (trip) => {
      const whole = countTrip(sums, trip, { rule, slots, hours });
      trips.push({ warnedAt: trip.warnedAt, trippedAt: trip.trippedAt, backAt: trip.backAt, ...whole });
    },
  );
  return { trips, ...sums };
}

/** What is read of the samples for a rule whatever its windows are; and, of each condition, what its threshold makes of them. */
export type Reading = Readonly<{
  slots: Slots;
  hours: HoursOver | null;
  conditions: readonly ConditionRead[];
  /** NOTHING where no metric of the rule has a value, ELSEWHEN where the rule does not apply, else NOT. */
  ground: Uint8Array;
  fails: Uint8Array;
}>;

export type ConditionRead = Readonly<{
  condition: Condition;
  column: Column;
  met: Uint8Array;
  said: Uint8Array;
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
    ground: groundOf(rule, { slots, hours }),
    fails: failing(
      rule,
      conditions.map(({ said }) => said),
    ),
  };
}

export function readCondition(condition: Condition, slots: Slots): ConditionRead {
  const column = slots.columns.get(condition.metric) ?? columnOf(new Float64Array(slots.count).fill(Number.NaN));
  const met = metBy(column, condition);
  return {
    condition,
    column,
    met,
    said: saidBySample(condition, met, slots),
    counts: countsOf(column),
    sums: condition.statistic === "mean" ? sumsOf(column) : null,
  };
}

/** The same samples with another threshold. */
export function withThreshold(read: ConditionRead, threshold: number, slots: Slots): ConditionRead {
  const condition = { ...read.condition, threshold };
  const met = metBy(read.column, condition);
  return { ...read, condition, met, said: saidBySample(condition, met, slots) };
}

function groundOf(rule: IdleRule, { slots, hours }: Pick<Reading, "slots" | "hours">): Uint8Array {
  const ground = new Uint8Array(slots.count);
  for (const metric of metricsOf(rule)) {
    const values = slots.columns.get(metric)?.values;
    if (values) for (let i = 0; i < ground.length; i++) if (!Number.isNaN(values[i] as number)) ground[i] = NOT;
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

/** The course of a rule from what its conditions say over their windows. */
export function courseOf(
  rule: IdleRule,
  { slots, hours, ground, fails, conditions }: Reading,
  over: readonly Uint8Array[],
): Course {
  const { stepS, firstEnd } = slots;
  const isAll = rule.match === "all";
  const windows = conditions.map(({ condition }) => slotsIn(condition.window, stepS) * stepS);
  const settleS = rule.settle * MINUTE_S;
  const verdicts = Uint8Array.from(ground);
  const [only] = over;
  if (over.length === 1 && only) {
    for (let i = 0; i < verdicts.length; i++) if (only[i] === 1 && verdicts[i] === NOT) verdicts[i] = HOLDS;
  } else {
    for (let i = 0; i < verdicts.length; i++) {
      if (verdicts[i] !== NOT) continue;
      if (isAll ? over.every((one) => one[i] === 1) : over.some((one) => one[i] === 1)) verdicts[i] = HOLDS;
    }
  }
  const longest = Math.max(...windows);
  return {
    stepS,
    firstEnd,
    verdicts,
    trustedAfterS: Math.max(settleS, longest),
    blindForS: Math.max(settleS, isAll ? longest : Math.min(...windows)),
    near: (slot, startedAt) => {
      if (ground[slot] !== NOT) return ground[slot] as number;
      const end = firstEnd + slot * stepS;
      return over.some((one, k) => one[slot] === 1 && end - (windows[k] as number) >= startedAt) ? HOLDS : NOT;
    },
    fails,
    rises: hours?.rises ?? [],
    warnS: rule.warn * MINUTE_S,
    isTell: rule.action === "tell",
  };
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
