import { type Instant, MINUTE_S } from "../time";
import { type AlarmReason, isSameReason } from "./reason";
import { failingFrom, overWindow, type Reading, readingOf } from "./replay";
import { type IdleRule, isMultiple, metricsOf } from "./rule";
import type { Slots } from "./slots";
import { leastSamples, NOTHING, slotsIn } from "./verdicts";

export const ALARM_STATES = ["blind", "watching", "warned", "tripped", "paused"] as const;
export type AlarmState = (typeof ALARM_STATES)[number];

/** An alarm of one resource by one rule, as it was last seen. */
export type Alarm = Readonly<{
  state: AlarmState;
  /** When it came to this state. */
  since: Instant;
  reason: AlarmReason;
  /** Set while it is warned or tripped. */
  warnedAt: Instant | null;
  /** The end of the last slot that was evaluated; earlier ones never count again. */
  seenUntil: Instant | null;
}>;

export type Evaluating = Readonly<{
  rule: IdleRule;
  now: Instant;
  /** What is known of late, as far back as the longest window reaches; null where nothing is. */
  slots: Slots | null;
  /** When what runs began to; null where it does not run. */
  startedAt: Instant | null;
  /** A trip of this rule is in effect. */
  isTripped: boolean;
  /** Its stop is held back: the machine runs on, is looked at further, and whoever uses it ends the trip. */
  isHeldBack: boolean;
  /** Why nothing is to be warned of or done: paused, or held on by a person; null where neither is so. */
  paused: Extract<AlarmReason, { code: "paused" }> | null;
  held: Extract<AlarmReason, { code: "held on" }> | null;
  appliesAt: (t: Instant) => boolean;
  /** Slots that ended before it are too old to warn or act on. */
  freshFrom: Instant;
  /** How late the rule's metrics usually are, in seconds (`waitOf`): a slot that lacks some is waited for so long. */
  waitS: number;
  /** The first instant after another at which its hours rise; null where none does. */
  riseAfter: (t: Instant) => Instant | null;
}>;

/** A slot is waited for at least so many steps, and at most so long. */
const WAIT_STEPS = 2;
export const WAIT_MAX_S = 30 * MINUTE_S;

/** How long a slot is waited for whose metrics usually come so late (seconds; null where that is not known yet). */
export function waitOf(latenessS: number | null, stepS: number): number {
  return Math.min(WAIT_MAX_S, Math.max(WAIT_STEPS * stepS, latenessS ?? 0));
}

/** After so many steps without a sample a source has fallen silent; at least so many minutes. */
const SILENT_STEPS = 3;
const SILENT_MINUTES = 10;

/**
 * The alarm after what has come in since it was last seen (docs/model.md, Idle alarms: evaluation). Slots are taken in
 * order, each once; one that is too old to act on may cancel a warning, never give one. Returns the same object where
 * nothing is new.
 */
export function evaluate(before: Alarm | null, watching: Evaluating): Alarm {
  const { now, isTripped, isHeldBack } = watching;
  if (!isTripped) return lookedAt(before, watching);
  const tripped: Alarm =
    before?.state === "tripped"
      ? before
      : { state: "tripped", since: now, reason: { code: "tripped" }, warnedAt: now, seenUntil: before?.seenUntil ?? null };
  if (!isHeldBack) return tripped;
  // Only that somebody is there ends a trip that is held back: what cannot be seen leaves it as it is.
  const on = lookedAt(tripped, watching);
  return on.state === "watching" || on.state === "tripped" ? on : tripped;
}

function lookedAt(before: Alarm | null, watching: Evaluating): Alarm {
  const { rule, now, slots, startedAt, isTripped, paused, held } = watching;
  const seenUntil = before?.seenUntil ?? null;
  const to = (state: AlarmState, reason: AlarmReason, more: Partial<Alarm> = {}): Alarm =>
    settled(before, { now, state, reason, seenUntil, ...more });
  if (paused !== null) return to("paused", paused);
  if (startedAt === null) return to("blind", { code: "not running" });
  if (held !== null) return to("watching", held, { seenUntil: slots ? lastEnd(slots) : seenUntil });
  if (!slots)
    return to(
      "blind",
      seenUntil === null ? { code: "no sample known", metrics: metricsOf(rule) } : { code: "silent", at: seenUntil },
    );
  const odd = rule.conditions.find(({ window }) => !isMultiple(window, slots.stepS / MINUTE_S));
  if (odd) return to("blind", { code: "odd window", window: odd.window, step: slots.stepS / MINUTE_S });
  const silent = silence(slots, watching);
  if (silent !== null) return to("blind", silent, { seenUntil });

  const looks = looker(rule, slots, watching);
  // What was paused, off or tripped begins anew; a trip that only tells, or is held back, goes on until it does not hold.
  const goesOn = rule.action === "tell" || isTripped;
  const isTold = before?.state === "tripped" && goesOn;
  let alarm: Going = {
    state: "watching",
    since: now,
    reason: { code: "nothing seen" },
    warnedAt: before?.warnedAt ?? null,
    seenUntil,
  };
  if (before?.state === "warned" || isTold) alarm = { ...alarm, state: before.state, reason: before.reason };
  else if (seenUntil === null || startedAt > seenUntil)
    alarm = { ...alarm, warnedAt: null, state: "blind", reason: { code: "started", at: startedAt } };
  else {
    const reason: AlarmReason = before?.reason ?? { code: "nothing seen" };
    alarm = { ...alarm, warnedAt: null, state: before?.state === "blind" ? "blind" : "watching", reason };
  }
  const last = lastReady(slots, watching);
  for (let i = firstAfter(slots, seenUntil); i <= last; i++) {
    const end = slots.firstEnd + i * slots.stepS;
    const said = looks(i);
    if (said.verdict === "nothing") continue;
    alarm = { ...next(alarm, said, { end, now, rule, isFresh: end >= watching.freshFrom }), seenUntil: end };
  }
  const against = alarm.state === "tripped" && !goesOn ? saidSince(slots, watching, last) : null;
  if (against) alarm = { ...alarm, state: "watching", warnedAt: null, reason: against };
  const { state, reason, warnedAt } = alarm;
  return to(state, typeof reason === "function" ? reason() : reason, { warnedAt, seenUntil: alarm.seenUntil });
}

/** The same object where nothing has changed; one that only saw more keeps when its state began. */
function settled(
  before: Alarm | null,
  {
    now,
    state,
    reason,
    warnedAt = null,
    seenUntil,
  }: Readonly<{ now: Instant; state: AlarmState; reason: AlarmReason; warnedAt?: Instant | null; seenUntil: Instant | null }>,
): Alarm {
  if (!before || before.state !== state) return { state, since: now, reason, warnedAt, seenUntil };
  if (before.warnedAt === warnedAt && before.seenUntil === seenUntil && isSameReason(before.reason, reason)) return before;
  return { state, since: before.since, reason, warnedAt, seenUntil };
}

/** Reasons are made only where they are told: of the last slot. */
type Said = Readonly<{ verdict: "nothing" | "elsewhen" | "blind" | "not" | "holds"; reason: () => AlarmReason }>;
type Going = Omit<Alarm, "reason"> & Readonly<{ reason: AlarmReason | (() => AlarmReason) }>;
type Looking = Readonly<{ end: Instant; now: Instant; rule: IdleRule; isFresh: boolean }>;

function next(alarm: Going, { verdict, reason }: Said, { end, now, rule, isFresh }: Looking): Going {
  if (verdict === "elsewhen") return alarm.state === "tripped" ? alarm : { ...alarm, state: "watching", warnedAt: null, reason };
  if (verdict === "blind") return { ...alarm, state: "blind", warnedAt: null, reason };
  if (verdict === "not") return { ...alarm, state: "watching", warnedAt: null, reason };
  if (alarm.state === "tripped") return alarm;
  // A warning has to be given in time to be one, and nothing is done on what was so long ago.
  if (!isFresh)
    return alarm.state === "warned"
      ? alarm
      : { ...alarm, state: "watching", warnedAt: null, reason: { code: "too old to act on" } };
  // A warning counts from when it is given: whoever is warned has all of the time that was said.
  const warnedAt = alarm.state === "warned" ? (alarm.warnedAt ?? now) : now;
  const isOver = rule.warn === 0 || (alarm.state === "warned" && end >= warnedAt + rule.warn * MINUTE_S);
  return { ...alarm, state: isOver ? "tripped" : "warned", warnedAt, reason };
}

function lastEnd({ firstEnd, count, stepS }: Slots): Instant {
  return firstEnd + (count - 1) * stepS;
}

function firstAfter({ firstEnd, stepS }: Slots, seenUntil: Instant | null): number {
  return seenUntil === null ? 0 : Math.max(0, Math.floor((seenUntil - firstEnd) / stepS) + 1);
}

/** The last slot that may be looked at: slots are taken in order, and one that lacks a metric of the rule is waited for. */
function lastReady(slots: Slots, { rule, now, waitS }: Evaluating): number {
  const columns = metricsOf(rule).map((metric) => slots.columns.get(metric)?.values);
  const isWhole = (i: number) => columns.every((values) => values !== undefined && !Number.isNaN(values[i] as number));
  let last = Math.min(slots.count - 1, Math.floor((now - waitS - slots.firstEnd) / slots.stepS));
  while (last + 1 < slots.count && isWhole(last + 1)) last++;
  return last;
}

/** What speaks against a trip since the slot that gave it: a sample of somebody who is there, or a rise of the hours. */
function saidSince(slots: Slots, { rule, now, riseAfter }: Evaluating, last: number): AlarmReason | null {
  const fails = failingFrom(rule, readingOf({ ...rule, applies: "always" }, slots, null), null);
  if (fails(last + 1) < slots.count) return { code: "in use" };
  const rise = riseAfter(slots.firstEnd + last * slots.stepS);
  return rise !== null && rise <= now ? { code: "risen", at: rise } : null;
}

/** Why a source counts as silent; null where it does not. */
function silence(slots: Slots, { now, waitS }: Evaluating): AlarmReason | null {
  let last = Number.NEGATIVE_INFINITY;
  for (const { values } of slots.columns.values())
    for (let i = values.length - 1; i > last; i--) if (!Number.isNaN(values[i] as number)) last = i;
  if (last < 0) return { code: "no sample known", metrics: [] };
  const end = slots.firstEnd + last * slots.stepS;
  const allowed = Math.max(SILENT_STEPS * slots.stepS, SILENT_MINUTES * MINUTE_S, waitS + slots.stepS);
  return now - end > allowed ? { code: "silent", at: end } : null;
}

const NOTHING_SEEN = (): AlarmReason => ({ code: "nothing seen" });

/** Says what the rule says at a slot, and why. */
function looker(rule: IdleRule, slots: Slots, { startedAt, appliesAt }: Evaluating): (i: number) => Said {
  const reading = readingOf({ ...rule, applies: "always" }, slots, null);
  const over = reading.conditions.map((one) => overWindow(one, rule, slots));
  const ground = reading.ground();
  const isAll = rule.match === "all";
  const blindness = reading.conditions.map((_, k) => blindnessOf(reading, k, { rule, startedAt }));
  return (i) => {
    const end = slots.firstEnd + i * slots.stepS;
    if (ground[i] === NOTHING) return { verdict: "nothing", reason: NOTHING_SEEN };
    if (!appliesAt(end)) return { verdict: "elsewhen", reason: () => ({ code: "outside its hours", applies: rule.applies }) };
    let [blind, holding] = [0, 0];
    let first: Blindness | null = null;
    for (const [k, one] of blindness.entries()) {
      if (one.isBlind(i, end)) {
        blind++;
        first ??= one;
      } else if (over[k]?.[i] === 1) holding++;
    }
    const count = blindness.length;
    if (first && (isAll ? blind > 0 : blind === count)) {
      const seen = first;
      return { verdict: "blind", reason: () => seen.reason(i, end) };
    }
    const holds = isAll ? holding === count : holding > 0;
    return holds
      ? { verdict: "holds", reason: () => ({ code: "holds" }) }
      : { verdict: "not", reason: () => ({ code: "in use" }) };
  };
}

type Blindness = Readonly<{ isBlind: (i: number, end: Instant) => boolean; reason: (i: number, end: Instant) => AlarmReason }>;

/** When one condition says nothing, and why. */
function blindnessOf(
  { conditions, slots }: Reading,
  k: number,
  { rule, startedAt }: Readonly<{ rule: IdleRule; startedAt: Instant | null }>,
): Blindness {
  const { condition, counts } = conditions[k] as Reading["conditions"][number];
  const width = slotsIn(condition.window, slots.stepS);
  const need = Math.max(1, leastSamples(rule.coverage, width));
  const began = startedAt ?? Number.NEGATIVE_INFINITY;
  const settledAt = began + rule.settle * MINUTE_S;
  const present = (i: number) => (counts[i + 1] as number) - (counts[Math.max(0, i + 1 - width)] as number);
  return {
    isBlind: (i, end) => end < settledAt || end - width * slots.stepS < began || present(i) < need,
    reason: (i, end) => {
      if (end < settledAt) return { code: "settling", at: settledAt };
      if (end - width * slots.stepS < began) return { code: "window not full", startedAt: began, window: condition.window };
      return { code: "coverage", present: present(i), of: width, least: rule.coverage, metric: condition.metric };
    },
  };
}

/** Samples by metric, slot by slot; null where one is missing. */
export type AlarmSamples = Readonly<Record<string, readonly (number | null)[]>>;

/** The samples of the windows that end at a slot, by metric: what led to it. */
export function windowSamples(rule: IdleRule, slots: Slots, end: Instant): AlarmSamples {
  const last = Math.round((end - slots.firstEnd) / slots.stepS);
  return Object.fromEntries(
    rule.conditions.map(({ metric, window }) => {
      const width = slotsIn(window, slots.stepS);
      const values = slots.columns.get(metric)?.values ?? new Float64Array();
      return [
        metric,
        Array.from({ length: width }, (_, j) => {
          const value = values[last - width + 1 + j];
          return value === undefined || Number.isNaN(value) ? null : value / 1_000_000;
        }),
      ];
    }),
  );
}
