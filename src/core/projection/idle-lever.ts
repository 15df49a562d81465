import { type Level, OFF } from "../hours";
import { spreadOver } from "../idle/worth";
import { type Amount, costPerSecond, divideHalfEven, type RateCard } from "../pricing";
import { DAY_S } from "../time";
import { type CoverableUse, coverOfMonths, type SpareCover } from "./cover";
import type { Figure } from "./levers";
import type { Line } from "./line";
import type { Month } from "./months";

/**
 * What idle alarms take off, line by line, in each of some past weeks: seconds off, and what a second saves; and, in the mean of the
 * weeks, seconds off in each UTC hour of the week, Monday 00:00 first.
 */
export type IdleLever = Readonly<{
  kind: "idle";
  /** By line; null where no rule looks at it. */
  lines: readonly (Readonly<{ offS: readonly number[]; savedPerSecond: bigint; byHour: readonly number[] }> | null)[];
  seed: number;
}>;

/**
 * What the people of a pool, and its spare machines, bring above the hours: line by line, in each of some past weeks, seconds on
 * more than the hours (below 0: fewer), and what such a second costs; and by UTC hour of the week in their mean.
 */
export type PeopleUse = Readonly<{
  lines: readonly (Readonly<{ onS: readonly number[]; perSecond: bigint; byHour: readonly number[] }> | null)[];
  seed: number;
}>;

/** The figure of hours with the people of a pool on top, and the spread of what hours and people together save. */
export function withPeople(
  hours: Figure,
  { lines, seed }: PeopleUse,
  { before, months, spare }: Readonly<{ before: Figure }> & Laid,
): Readonly<{ after: Figure; spread: Spread }> {
  const less = (seconds: readonly number[]) => seconds.map((own) => -own);
  const off = lines.map((line) => line && { offS: less(line.onS), savedPerSecond: line.perSecond, byHour: less(line.byHour) });
  const { after, spread } = afterIdle(hours, { kind: "idle", lines: off, seed }, { months, spare });
  const byHours = months.map((_, m) => (before.gross[m] as bigint) - (hours.gross[m] as bigint));
  const above = ({ p5, p50, p95 }: Percentile, saved: bigint): Percentile => ({
    p5: (p5 + saved) as Amount,
    p50: (p50 + saved) as Amount,
    p95: (p95 + saved) as Amount,
  });
  const all = byHours.reduce((sum, saved) => sum + saved, 0n);
  return {
    after,
    spread: {
      months: spread.months.map((one, m) => above(one, byHours[m] as bigint)),
      mean: above(spread.mean, divideHalfEven(all, BigInt(Math.max(1, months.length)))),
    },
  };
}

/** Percentiles of what is saved. */
export type Percentile = Readonly<{ p5: Amount; p50: Amount; p95: Amount }>;
/** The spread of what a lever saves, month by month and for a month of the mean length. */
export type Spread = Readonly<{ months: readonly Percentile[]; mean: Percentile }>;

const WEEK_S = 7 * DAY_S;

/** What a second off saves of a running line, turned off in one way or the other. */
export function savedPerSecond(
  card: RateCard,
  { ownSize, canHibernate }: Pick<Line, "ownSize" | "canHibernate">,
  hibernates: boolean,
): bigint {
  const on = costPerSecond(card, { state: "running", level: ownSize as Level });
  return on - costPerSecond(card, { state: hibernates && canHibernate ? "hibernated" : "stopped", level: OFF });
}

type Laid = Readonly<{ months: readonly Month[]; spare: SpareCover | null }>;

/**
 * The figure after idle alarms: each month less the mean of the weeks, as long as the month is; and its spread. What commitments
 * paid for and is off now saves nothing: hour by hour of the week, that is off both.
 */
export function afterIdle(
  before: Figure,
  { lines, seed }: IdleLever,
  { months, spare }: Laid,
): Readonly<{ after: Figure; spread: Spread }> {
  const weeks = lines.find((line) => line !== null)?.offS.length ?? 0;
  const saved = (line: IdleLever["lines"][number], spanS: number): bigint => {
    if (!line || weeks === 0) return 0n;
    const offS = line.offS.reduce((sum, seconds) => sum + seconds, 0);
    // Whole seconds of the span, once: sums of lines stay sums.
    return BigInt(Math.round((offS / weeks) * (spanS / WEEK_S))) * line.savedPerSecond;
  };
  const perLine = before.lines.map((amounts, i) =>
    amounts.map((amount, m) => {
      const { from, to } = months[m] as Month;
      const off = saved(lines[i] ?? null, to - from);
      return (off > amount ? 0n : amount - off) as Amount;
    }),
  );
  const gross = months.map((_, m) => perLine.reduce((sum, amounts) => sum + (amounts[m] as bigint), 0n) as Amount);
  const uses = before.uses.map((use, i): CoverableUse => {
    const off = lines[i]?.byHour;
    return off ? { ...use, lessS: added(use.lessS, off, use.line.ownSize) } : use;
  });
  const stillPaid = coverOfMonths(uses, { spare, months });
  const covered = months.map((_, m) => least(stillPaid[m] as bigint, gross[m] as bigint) as Amount);
  const lost = before.covered.map((amount, m) => amount - (covered[m] as bigint));
  const weekly = Array.from({ length: weeks }, (_, w) =>
    lines.reduce((sum, line) => sum + (line ? (line.offS[w] as number) * Number(line.savedPerSecond) : 0), 0),
  );
  const spreadOf = (spanS: number, coveredAnyway: bigint): Percentile => {
    const { p5, p50, p95 } = spreadOver(weekly, spanS, seed);
    const amount = (value: number) => (BigInt(Math.round(value)) - coveredAnyway) as Amount;
    return { p5: amount(p5), p50: amount(p50), p95: amount(p95) };
  };
  const count = Math.max(1, months.length);
  const whole = (months.at(-1)?.to ?? 0) - (months[0]?.from ?? 0);
  return {
    after: { gross, covered, lines: perLine, uses },
    spread: {
      months: months.map(({ from, to }, m) => spreadOf(to - from, lost[m] as bigint)),
      mean: spreadOf(whole / count, lost.reduce((sum, amount) => sum + amount, 0n) / BigInt(count)),
    },
  };
}

/** Seconds of a size off by hour of the week, with those of levers before. */
function added(before: CoverableUse["lessS"], off: readonly number[], size: number): readonly number[] {
  return off.map((seconds, hour) => seconds * size + (before?.[hour] ?? 0));
}

function least(a: bigint, b: bigint): bigint {
  return a < b ? a : b;
}
