import type { Amount } from "../pricing";
import { DAY_S } from "../time";
import type { Percentile, Spread } from "./idle-lever";
import type { Figure } from "./levers";
import type { Month } from "./months";

/** What a mix takes off in a week, by simulation: in the mean, and its percentiles; and the lines that it is kept for. */
export type MixLever = Readonly<{
  kind: "mix";
  mean: Amount;
  spread: Percentile;
  /** By line: true for what the mix gives its machines. */
  lines: readonly boolean[];
}>;

const WEEK_S = 7 * DAY_S;

/** The figure after a mix: each month less as many weeks of it as the month has, shared by the lines as they cost; and its spread. */
export function afterMix(
  before: Figure,
  { mean, spread, lines }: MixLever,
  months: readonly Month[],
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
  const covered = before.covered.map((amount, m) => (amount > (gross[m] as bigint) ? (gross[m] as Amount) : amount));
  const percentiles = (seconds: number): Percentile => ({
    p5: over(spread.p5, seconds) as Amount,
    p50: over(spread.p50, seconds) as Amount,
    p95: over(spread.p95, seconds) as Amount,
  });
  const whole = (months.at(-1)?.to ?? 0) - (months[0]?.from ?? 0);
  return {
    after: { gross, covered, lines: perLine },
    spread: {
      months: months.map((month) => percentiles(spanOf(month))),
      mean: percentiles(Math.round(whole / Math.max(1, months.length))),
    },
  };
}

function least(a: bigint, b: bigint): bigint {
  return a < b ? a : b;
}
