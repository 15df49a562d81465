import { AMOUNT_PER_UNIT, type Amount } from "../pricing";
import type { LeverKind, Percentile } from "../projection";
import type { GapCause } from "../realised";
import { LEVERS } from "./levers";

/** What a lever of a fleet was worth on a day, beside what was foretold; null: it was not. Exact amounts. */
export type LeverDay = Readonly<{ lever: LeverKind; saved: Amount; forecast: Percentile | null }>;

export type SavedInput = Readonly<{
  pulled: readonly LeverKind[];
  /** What everything together saved. */
  saved: bigint;
  /** By cause, what was paid more than hours alone make it. */
  gap: Readonly<Record<GapCause, bigint>>;
  forecasts: Readonly<Partial<Record<LeverKind, Percentile | null>>>;
}>;

/**
 * What was saved, by lever: what a cause of its own tells, and to the one without a cause what is left. Where only one is
 * pulled all of it is its. The rows add up to `saved` wherever hours are pulled, or one lever alone.
 */
export function savedByLever({ pulled, saved, gap, forecasts }: SavedInput): readonly LeverDay[] {
  const own = LEVERS.filter(({ kind }) => pulled.includes(kind));
  const ofCauses = own.reduce((sum, { cause }) => (cause === null ? sum : sum - gap[cause]), 0n);
  return own.map(({ kind, cause }) => {
    const told = cause === null ? saved - ofCauses : -gap[cause];
    return { lever: kind, saved: (own.length === 1 ? saved : told) as Amount, forecast: forecasts[kind] ?? null };
  });
}

/** What of a day was foretold of levers with a cause of their own, by that cause: the middle of what each was to save. */
export function promisedBy(levers: readonly LeverDay[]): ReadonlyMap<GapCause, Amount> {
  return new Map(
    LEVERS.flatMap(({ kind, cause }): [GapCause, Amount][] => {
      const middle = levers.find(({ lever }) => lever === kind)?.forecast?.p50;
      return cause === null || middle === undefined ? [] : [[cause, middle]];
    }),
  );
}

/** An amount from money as a number: what was simulated is exact to a billionth. */
export function amountOfMoney(money: number): Amount {
  return ((BigInt(Math.round(money * 1e6)) * AMOUNT_PER_UNIT) / 1_000_000n) as Amount;
}

/** The spread of what a day saves, from what as many days before came to: nearest rank. Null without one. */
export function spreadOfDays(saved: readonly bigint[]): Percentile | null {
  if (saved.length === 0) return null;
  const inOrder = [...saved].sort((a, b) => (a < b ? -1 : a > b ? 1 : 0));
  const rank = (p: number) => inOrder[Math.max(0, Math.ceil((p * inOrder.length) / 100) - 1)] as Amount;
  return { p5: rank(5), p50: rank(50), p95: rank(95) };
}
