import { type Amount, centsOf, formatCents, type Micros, microsOf, NO_AMOUNT, shareReader } from "@/core/pricing";
import type { Money, Part } from "./priced";
import type { BurnMoney, BurnTotals } from "./query";

const COLUMNS = ["perHour", "soFar", "month", "byMonthEnd", "ifAsNow"] as const;
type Column = (typeof COLUMNS)[number];
export type Cents = Readonly<Record<Column, bigint>>;

/** The exact sum of each column; null where no line knows it. */
export function sumOf(lines: readonly Money[]): Money {
  let perHour = 0n;
  let soFar: bigint | null = null;
  let month: bigint | null = null;
  let byMonthEnd: bigint | null = null;
  let ifAsNow: bigint | null = null;
  for (const line of lines) {
    perHour += line.perHour;
    if (line.soFar !== null) soFar = (soFar ?? 0n) + line.soFar;
    if (line.month !== null) month = (month ?? 0n) + line.month;
    if (line.byMonthEnd !== null) byMonthEnd = (byMonthEnd ?? 0n) + line.byMonthEnd;
    if (line.ifAsNow !== null) ifAsNow = (ifAsNow ?? 0n) + line.ifAsNow;
  }
  return { perHour, soFar, month, byMonthEnd, ifAsNow } as Money;
}

export function centsOfAll(sum: Money): Cents {
  return Object.fromEntries(COLUMNS.map((column) => [column, centsOf(sum[column] ?? NO_AMOUNT)])) as Cents;
}

/** Text of one line's money, and the same in whole cents for what it is the total of. */
export type MoneyReader = Readonly<{ text: (i: number) => BurnMoney; cents: (i: number) => Cents }>;

/** Reads each line's money so that each column adds up to its shown total. */
export function sharedMoney(lines: readonly Money[], total: Cents): MoneyReader {
  const shares = Object.fromEntries(
    COLUMNS.map((column) => [
      column,
      shareReader(
        lines.map((line) => line[column] ?? NO_AMOUNT),
        total[column],
      ),
    ]),
  ) as Record<Column, (i: number) => Micros>;
  const known = (column: Column, i: number) => ((lines[i] as Money)[column] === null ? null : shares[column](i));
  const text = (micros: Micros | null) => (micros === null ? null : formatCents(micros));
  return {
    text: (i) => ({
      perHour: formatCents(shares.perHour(i)),
      soFar: text(known("soFar", i)),
      month: text(known("month", i)),
      byMonthEnd: text(known("byMonthEnd", i)),
      ifAsNow: text(known("ifAsNow", i)),
    }),
    cents: (i) => Object.fromEntries(COLUMNS.map((column) => [column, (known(column, i) ?? 0n) / 10_000n])) as Cents,
  };
}

/** The totals of what is shown, `sum` being its sum. */
export function totalsOf(parts: readonly Part[], sum: Money): BurnTotals {
  let count = 0;
  let halted = 0;
  let notDue = 0;
  let notDuePerHour = NO_AMOUNT as bigint;
  for (const part of parts) {
    if (part.kind !== "line") continue;
    count++;
    if (part.resource.state === "halted") halted++;
    if (!part.isNotDue) continue;
    notDue++;
    notDuePerHour += part.perHour;
  }
  const text = (amount: Amount | null) => (amount === null ? null : formatCents(microsOf(amount)));
  return {
    count,
    notDue,
    halted,
    perHour: formatCents(microsOf(sum.perHour)),
    soFar: text(sum.soFar),
    month: text(sum.month),
    byMonthEnd: text(sum.byMonthEnd),
    ifAsNow: text(sum.ifAsNow),
    notDuePerHour: formatCents(microsOf(notDuePerHour as Amount)),
  };
}
