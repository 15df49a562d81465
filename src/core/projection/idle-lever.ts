import { type Level, OFF } from "../hours";
import { spreadOver } from "../idle/worth";
import { type Amount, costPerSecond, divideHalfEven, type RateCard } from "../pricing";
import { DAY_S } from "../time";
import type { Figure } from "./levers";
import type { Line } from "./line";
import type { Month } from "./months";

/** What idle alarms take off, line by line, in each of some past weeks: seconds off, and what a second saves. */
export type IdleLever = Readonly<{
  kind: "idle";
  /** By line; null where no rule looks at it. */
  lines: readonly (Readonly<{ offS: readonly number[]; savedPerSecond: bigint }> | null)[];
  seed: number;
}>;

/**
 * What the people of a pool, and its spare machines, bring above the hours: line by line, in each of some past weeks, seconds on
 * more than the hours (below 0: fewer), and what such a second costs.
 */
export type PeopleUse = Readonly<{
  lines: readonly (Readonly<{ onS: readonly number[]; perSecond: bigint }> | null)[];
  seed: number;
}>;

/** The figure of hours with the people of a pool on top, and the spread of what hours and people together save. */
export function withPeople(
  hours: Figure,
  { lines, seed }: PeopleUse,
  { before, months }: Readonly<{ before: Figure; months: readonly Month[] }>,
): Readonly<{ after: Figure; spread: Spread }> {
  const off = lines.map((line) => line && { offS: line.onS.map((seconds) => -seconds), savedPerSecond: line.perSecond });
  const { after, spread } = afterIdle(hours, { kind: "idle", lines: off, seed }, months);
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

/** The figure after idle alarms: each month less the mean of the weeks, as long as the month is; and its spread. */
export function afterIdle(
  before: Figure,
  { lines, seed }: IdleLever,
  months: readonly Month[],
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
  // What was paid for in advance and is not used any more saves nothing.
  const covered = before.covered.map((amount, m) => (amount > (gross[m] as bigint) ? (gross[m] as Amount) : amount));
  const weekly = Array.from({ length: weeks }, (_, w) =>
    lines.reduce((sum, line) => sum + (line ? (line.offS[w] as number) * Number(line.savedPerSecond) : 0), 0),
  );
  const spreadOf = (spanS: number) => {
    const { p5, p50, p95 } = spreadOver(weekly, spanS, seed);
    const amount = (value: number) => BigInt(Math.round(value)) as Amount;
    return { p5: amount(p5), p50: amount(p50), p95: amount(p95) };
  };
  const whole = (months.at(-1)?.to ?? 0) - (months[0]?.from ?? 0);
  return {
    after: { gross, covered, lines: perLine, uses: before.uses },
    spread: { months: months.map(({ from, to }) => spreadOf(to - from)), mean: spreadOf(whole / Math.max(1, months.length)) },
  };
}
