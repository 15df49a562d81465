import { type CompiledSchedule, expand, expandWithLead, type Interval, type Level } from "../hours";
import { type Amount, type AmountPerSecond, amountOf, billedSeconds, computePerSecond, NO_RATE, type RateCard } from "../pricing";
import { highestLevel } from "../rounds";
import type { LifeSpan } from "../spend";
import { type Instant, MINUTE_S } from "../time";
import type { Line, Run, Window } from "./line";
import type { Month } from "./months";

/** The hours that a line follows, and how they are followed. */
export type HoursFollowed = Readonly<{
  schedule: CompiledSchedule;
  leadMinutes: number;
  offAction: "stop" | "hibernate" | "drop";
  starts: "plan" | "hand";
}>;

/** What hours let run over the months: billed seconds by level, seconds on and seconds left alone, month by month, and the runs. */
export type HoursUse = Readonly<{ months: readonly MonthUse[]; runs: readonly Run[]; left: readonly Window[] }>;
type MonthUse = { billed: Map<Level, number>; onS: number; leftS: number };

/** How hours are laid on lines whose past is not known: leave goes on at `leaveAs`, and nothing rises above `atMost`; null where neither is so. */
export type Laying = Readonly<{ leaveAs: Level | null; atMost: Level | null }>;

/** Expands once for each way of billing and each size, not once for each resource. */
export function usageReader(months: readonly Month[]): (line: Line, followed: HoursFollowed, laying: Laying) => HoursUse {
  const known = new Map<CompiledSchedule, Map<string, HoursUse>>();
  return (line, followed, { leaveAs, atMost }) => {
    const { billing } = line.card;
    const most = Math.min(highestLevel(line), atMost ?? Number.POSITIVE_INFINITY);
    const key = `${followed.leadMinutes} ${line.ownSize} ${most} ${leaveAs} ${billing.granularityS} ${billing.minimumS}`;
    const bySchedule = known.get(followed.schedule) ?? new Map<string, HoursUse>();
    known.set(followed.schedule, bySchedule);
    const use =
      bySchedule.get(key) ?? usageOf(hoursOver(followed, { months, size: line.ownSize }), { most, leaveAs, billing, months });
    bySchedule.set(key, use);
    return use;
  };
}

function hoursOver(
  { schedule, leadMinutes }: HoursFollowed,
  { months, size }: { months: readonly Month[]; size: Level },
): readonly Interval[] {
  const [from, to] = [months[0]?.from ?? 0, months.at(-1)?.to ?? 0];
  return expandWithLead(schedule, { from, to, leadS: leadMinutes * MINUTE_S, ownSize: size });
}

type Using = Readonly<{ most: number; leaveAs: Level | null; billing: RateCard["billing"]; months: readonly Month[] }>;

function usageOf(intervals: readonly Interval[], { most, leaveAs, billing, months }: Using): HoursUse {
  const uses = months.map((): MonthUse => ({ billed: new Map(), onS: 0, leftS: 0 }));
  const left: Window[] = [];
  const capped: Run[] = [];
  for (const { from, to, level: said } of intervals) {
    const level = said ?? leaveAs;
    if (level === null) left.push({ from, to });
    else if (level > 0) capped.push({ from, to, level: Math.min(level, most) as Level });
  }
  const runs = joined(capped);
  eachMonth(left, months, (month, seconds) => {
    (uses[month] as MonthUse).leftS += seconds;
  });
  for (const run of runs) {
    eachMonth([run], months, (month, seconds) => addBilled(uses[month] as MonthUse, run.level, seconds, seconds));
    // What a run is rounded up by counts where it ends.
    const length = run.to - run.from;
    const end = months.findIndex(({ from, to }) => run.to > from && run.to <= to);
    if (end >= 0) addBilled(uses[end] as MonthUse, run.level, billedSeconds(length, billing) - length, 0);
  }
  return { months: uses, runs, left };
}

function addBilled(use: MonthUse, level: Level, seconds: number, onS: number): void {
  use.billed.set(level, (use.billed.get(level) ?? 0) + seconds);
  use.onS += onS;
}

/** Calls back with the seconds of the windows that lie in each month. Both are in order. */
function eachMonth(windows: readonly Window[], months: readonly Month[], tell: (month: number, seconds: number) => void): void {
  let first = 0;
  for (const { from, to } of windows) {
    while (first < months.length && (months[first] as Month).to <= from) first++;
    for (let i = first; i < months.length && (months[i] as Month).from < to; i++) {
      const month = months[i] as Month;
      tell(i, Math.min(to, month.to) - Math.max(from, month.from));
    }
  }
}

/** Joins neighbours at the same level: one run is billed once. */
export function joined(runs: readonly Run[]): Run[] {
  const result: Run[] = [];
  for (const run of runs) {
    const last = result.at(-1);
    if (last && last.to === run.from && last.level === run.level) result[result.length - 1] = { ...last, to: run.to };
    else result.push(run);
  }
  return result;
}

/** What a month costs with hours that let so much run; where they say leave, nothing is counted. */
export function costOfUse(
  card: RateCard,
  { billed, onS, leftS }: MonthUse,
  { seconds, imageRate }: Readonly<{ seconds: number; imageRate: AmountPerSecond }>,
): Amount {
  const countedS = seconds - leftS;
  let sum = amountOf(countedS, card.always) + amountOf(onS, card.addressesOn);
  sum += amountOf(countedS - onS, (card.addressesOff + imageRate) as AmountPerSecond);
  for (const [level, billedS] of billed) sum += amountOf(billedS, computePerSecond(card, level));
  return sum as Amount;
}

/** The rate of what is kept of a machine that is off. */
export function imageRateOf({ card, canHibernate }: Line, { offAction }: Pick<HoursFollowed, "offAction">): AmountPerSecond {
  return offAction === "hibernate" && canHibernate ? card.image : NO_RATE;
}

/** Past runs as they would have been with hours that only ever lower: never more than the hours allow. */
export function lowered(line: Line, followed: HoursFollowed, window: Window): Run[] {
  const hours = expand(followed.schedule, window.from, window.to, line.ownSize);
  const result: Run[] = [];
  let first = 0;
  for (const run of line.ran?.runs ?? []) {
    while (first < hours.length && (hours[first] as Interval).to <= run.from) first++;
    for (let i = first; i < hours.length && (hours[i] as Interval).from < run.to; i++) {
      const { from, to, level } = hours[i] as Interval;
      const start = Math.max(from, run.from);
      const end = Math.min(to, run.to);
      const allowed = level === null ? run.level : (Math.min(level, run.level) as Level);
      if (start < end && allowed > 0) result.push({ from: start, to: end, level: allowed });
    }
  }
  return joined(result);
}

/** What ran where the hours say leave. */
export function leftRuns({ ran, ownSize }: Line, { schedule }: HoursFollowed, window: Window): Run[] {
  const left = expand(schedule, window.from, window.to, ownSize).filter(({ level }) => level === null);
  return (ran?.runs ?? []).flatMap((run) =>
    left.flatMap(({ from, to }): Run[] => {
      const [start, end] = [Math.max(from, run.from), Math.min(to, run.to)];
      return start < end ? [{ from: start, to: end, level: run.level }] : [];
    }),
  );
}

/** A life made of runs: off between them, hibernated where that is how it is put off. */
export function lifeOfRuns(runs: readonly Run[], { from, to }: Window, hibernates: boolean): LifeSpan[] {
  const off = hibernates ? ("hibernated" as const) : ("stopped" as const);
  const life: LifeSpan[] = [];
  let at: Instant = from;
  for (const run of runs) {
    if (run.from > at) life.push({ from: at, to: run.from, state: off, level: 0 as Level });
    life.push({ from: run.from, to: run.to, state: "running", level: run.level });
    at = run.to;
  }
  if (at < to) life.push({ from: at, to, state: off, level: 0 as Level });
  return life;
}
