import type { Amount } from "../pricing";
import { DAY_S } from "../time";
import { type CoverableUse, coverOfMonths, type SpareCover } from "./cover";
import type { Percentile, Spread } from "./idle-lever";
import type { Figure } from "./levers";
import type { Run } from "./line";
import type { Month } from "./months";

/** What a mix takes off in a week, by simulation: in the mean, and its percentiles; and the lines that it is kept for. */
export type MixLever = Readonly<{
  kind: "mix";
  mean: Amount;
  spread: Percentile;
  /** Units at full price, the only ones that a commitment goes on paying for. */
  firm: number;
  /** By line: true for what the mix gives its machines. */
  lines: readonly boolean[];
}>;

const WEEK_S = 7 * DAY_S;

type Laid = Readonly<{ months: readonly Month[]; spare: SpareCover | null }>;

/**
 * The figure after a mix: each month less as many weeks of it as the month has, shared by the lines as they cost; and its
 * spread. What a commitment paid for and is spot now saves nothing: that is off both.
 */
export function afterMix(
  before: Figure,
  { mean, spread, lines, firm }: MixLever,
  { months, spare }: Laid,
): Readonly<{ after: Figure; spread: Spread }> {
  const over = (amount: bigint, seconds: number) => (amount * BigInt(seconds)) / BigInt(WEEK_S);
  const spanOf = ({ from, to }: Month) => to - from;
  const perLine = before.lines.map((amounts) => [...amounts]);
  const gross = months.map((month, m) => {
    const whole = before.gross[m] as bigint;
    const own = lines.flatMap((isMixed, i) => (isMixed ? [i] : []));
    const base = own.reduce((sum, i) => sum + (before.lines[i]?.[m] ?? 0n), 0n);
    // No more can be saved than is paid.
    const saved = own.length === 0 || base === 0n ? 0n : least(over(mean, spanOf(month)), base);
    let left = saved;
    own.forEach((i, n) => {
      const amounts = perLine[i] as Amount[];
      const part = n === own.length - 1 ? left : (saved * (amounts[m] as bigint)) / base;
      left -= part;
      amounts[m] = ((amounts[m] as bigint) - part) as Amount;
    });
    return (whole - saved) as Amount;
  });
  const uses = before.uses.map((use, i) => (lines[i] ? atMost(use, firm) : use));
  const stillPaid = coverOfMonths(uses, { spare, months });
  const covered = before.covered.map((amount, m) => least(least(amount, stillPaid[m] as bigint), gross[m] as bigint) as Amount);
  const lost = before.covered.map((amount, m) => amount - (covered[m] as bigint));
  const percentiles = (seconds: number, coveredAnyway: bigint): Percentile => ({
    p5: (over(spread.p5, seconds) - coveredAnyway) as Amount,
    p50: (over(spread.p50, seconds) - coveredAnyway) as Amount,
    p95: (over(spread.p95, seconds) - coveredAnyway) as Amount,
  });
  const count = Math.max(1, months.length);
  const whole = (months.at(-1)?.to ?? 0) - (months[0]?.from ?? 0);
  return {
    after: { gross, covered, lines: perLine, uses },
    spread: {
      months: months.map((month, m) => percentiles(spanOf(month), lost[m] as bigint)),
      mean: percentiles(Math.round(whole / count), lost.reduce((sum, amount) => sum + amount, 0n) / BigInt(count)),
    },
  };
}

/** What of a line stays at full price. */
function atMost({ line, ahead, ran, lessS }: CoverableUse, units: number): CoverableUse {
  const lowered = (runs: readonly Run[]) =>
    runs.map((run): Run => ({ ...run, level: Math.min(run.level, units) as Run["level"] }));
  return { line, ahead: lowered(ahead), ran: lowered(ran), lessS };
}

function least(a: bigint, b: bigint): bigint {
  return a < b ? a : b;
}
