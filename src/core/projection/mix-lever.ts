import type { Level } from "../hours";
import { type Amount, divideHalfEven } from "../pricing";
import { type CoverableUse, coverOfMonths, type SpareCover } from "./cover";
import type { Percentile, Spread } from "./idle-lever";
import type { Figure } from "./levers";
import type { Run } from "./line";
import { alwaysOnOf } from "./line-cost";
import type { Month } from "./months";

/** What a mix takes off over some time: in the mean, and its percentiles. */
export type MixSaving = Readonly<{ mean: Amount; spread: Percentile }>;

/** What a mix takes off, by simulation of a week and of each month; and the lines that it is kept for. */
export type MixLever = MixSaving &
  Readonly<{
    kind: "mix";
    /** By month: what simulating that very month came to; null, or none, as long as it was not. */
    months: readonly (MixSaving | null)[];
    /** What the units wanted in that week cost at the price that they have without it: what the figures above are a part of. */
    of: Amount;
    /** Units at full price, the only ones that a commitment goes on paying for. */
    firm: number;
    /** Units that the mix itself wants, where no hours say how many; null where they do. */
    units: Level | null;
    /** By line: true for what the mix gives its machines. */
    lines: readonly boolean[];
  }>;

type Laid = Readonly<{ months: readonly Month[]; spare: SpareCover | null }>;

/**
 * The figure after a mix, and its spread: what a month's units cost without it, by the hours of that month or as many as the mix
 * wants, less what the month took off as it was simulated, or until it was the part of it that the simulated week did. Shared by the lines as they cost. What a commitment paid for and is
 * spot now saves nothing: that is off both.
 */
export function afterMix(
  before: Figure,
  { mean, spread, of, lines, firm, units, months: simulated }: MixLever,
  { months, spare }: Laid,
): Readonly<{ after: Figure; spread: Spread }> {
  const own = lines.flatMap((isMixed, i) => (isMixed ? [i] : []));
  const part = (amount: bigint, base: bigint) => (of === 0n ? 0n : (amount * base) / of);
  const wholeOf = (i: number): readonly Amount[] => {
    const line = before.uses[i]?.line;
    return units === null || !line ? (before.lines[i] ?? []) : alwaysOnOf({ ...line, ownSize: units }, months);
  };
  const bases = own.map(wholeOf);
  const baseOf = (m: number) => bases.reduce((sum, amounts) => sum + (amounts[m] as bigint), 0n);
  const perLine = before.lines.map((amounts) => [...amounts]);
  const gross = months.map((_, m) => {
    const base = baseOf(m);
    // No more can be saved than is paid.
    const saved = least(simulated[m]?.mean ?? part(mean, base), base);
    let left = saved;
    let sum = before.gross[m] as bigint;
    own.forEach((i, n) => {
      const whole = bases[n]?.[m] as bigint;
      const share = n === own.length - 1 ? left : (saved * whole) / (base === 0n ? 1n : base);
      left -= share;
      const amounts = perLine[i] as Amount[];
      sum += whole - share - (amounts[m] as bigint);
      amounts[m] = (whole - share) as Amount;
    });
    return sum as Amount;
  });
  const span = { from: months[0]?.from ?? 0, to: months.at(-1)?.to ?? 0 };
  const uses = before.uses.map((use, i) => {
    if (!lines[i]) return use;
    return atMost(units === null ? use : { ...use, ahead: [{ ...span, level: units }], ran: [] }, firm);
  });
  const stillPaid = coverOfMonths(uses, { spare, months });
  const covered = months.map((_, m) => least(stillPaid[m] as bigint, gross[m] as bigint) as Amount);
  const lost = before.covered.map((amount, m) => amount - (covered[m] as bigint));
  // What there was before is not what the mix wants: that is no luck of the mix, and in every percentile.
  const other = months.map((_, m) => own.reduce((sum, i) => sum + (before.lines[i]?.[m] as bigint), 0n) - baseOf(m));
  const inMonth = months.map((_, m): Percentile => {
    const [base, certain] = [baseOf(m), (other[m] as bigint) - (lost[m] as bigint)];
    const own = simulated[m]?.spread;
    const amount = (of: (one: Percentile) => bigint) => ((own ? of(own) : part(of(spread), base)) + certain) as Amount;
    return { p5: amount(({ p5 }) => p5), p50: amount(({ p50 }) => p50), p95: amount(({ p95 }) => p95) };
  });
  return { after: { gross, covered, lines: perLine, uses }, spread: { months: inMonth, mean: meanOf(inMonth) } };
}

/** The mean of what months come to, percentile by percentile. */
function meanOf(months: readonly Percentile[]): Percentile {
  const mean = (of: (one: Percentile) => bigint) =>
    divideHalfEven(
      months.reduce((sum, one) => sum + of(one), 0n),
      BigInt(Math.max(1, months.length)),
    ) as Amount;
  return { p5: mean(({ p5 }) => p5), p50: mean(({ p50 }) => p50), p95: mean(({ p95 }) => p95) };
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
