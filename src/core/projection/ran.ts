import { type Amount, addAmounts, NO_AMOUNT, type RateCard, scaleAmount } from "../pricing";
import { billedRuns, costBySteps, type LifeSpan, totalOf } from "../spend";
import { DAY_S, weekdayIndex } from "../time";
import { type BasisDays, daysByWeekday, type Ran, type Run, WEEK } from "./line";
import { type Month, weekdaySeconds } from "./months";

/** How a life went on the basis days, at one card: every state billed as the table of states says. */
export function ranOf(life: readonly LifeSpan[], { card, days }: Readonly<{ card: RateCard; days: BasisDays }>): Ran {
  const [first, last] = [days[0], days.at(-1)];
  const byWeekday = new Array<Amount>(WEEK).fill(NO_AMOUNT);
  if (first === undefined || last === undefined) return { runs: [], byWeekday };
  const window = { from: first * DAY_S, to: (last + 1) * DAY_S };
  const cards = [{ from: Number.NEGATIVE_INFINITY, card }];
  const counted = new Set(days);
  for (const [at, cost] of costBySteps({ life, cards, ...window, knownTo: window.to + 1 })) {
    const day = Math.floor(at / DAY_S);
    if (!counted.has(day)) continue;
    byWeekday[weekdayIndex(day)] = addAmounts(byWeekday[weekdayIndex(day)] as Amount, totalOf(cost));
  }
  const runs = billedRuns(life, cards).flatMap(({ from, to, level }): Run[] => {
    const start = Math.max(window.from, from);
    const end = Math.min(window.to, to);
    return start < end ? [{ from: start, to: end, level }] : [];
  });
  return { runs, byWeekday };
}

/** Reads what a month costs if it goes as the basis days went, weekday by weekday. */
export function monthReader(days: BasisDays, months: readonly Month[]): (ran: Pick<Ran, "byWeekday">, month: number) => Amount {
  const counts = daysByWeekday(days);
  const seconds = months.map(weekdaySeconds);
  return ({ byWeekday }, month) => {
    let sum = 0n;
    let otherS = 0;
    byWeekday.forEach((amount, weekday) => {
      const count = counts[weekday] as number;
      const own = seconds[month]?.[weekday] ?? 0;
      if (count === 0) otherS += own;
      else if (amount !== 0n) sum += scaleAmount(amount, own, count * DAY_S);
    });
    // A weekday that the basis has none of goes as its days went on the whole.
    if (otherS > 0 && days.length > 0) sum += scaleAmount(byWeekday.reduce(addAmounts, NO_AMOUNT), otherS, days.length * DAY_S);
    return sum as Amount;
  };
}
