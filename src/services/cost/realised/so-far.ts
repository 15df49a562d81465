import type { DayLever } from "@/core/levers";
import { type Amount, formatCents, microsOf } from "@/core/pricing";
import { DAY_S, formatDate, type Instant } from "@/core/time";
import { leverDays, type Pool } from "@/store";

/** What a lever of a fleet has saved on its last closed days, beside what was foretold of each of them when it began. Money in words. */
export type LeverSoFar = Readonly<{
  lever: DayLever;
  days: number;
  saved: string;
  foretold: string;
  /** Days on which it saved what lay within the interval of nine in ten. */
  within: number;
}>;

const DAYS = 28;

/** Of each lever that was foretold on any of the last four weeks' days; below 0 what it cost more. */
export async function leversSoFar(pool: Pool, fleet: string, now: Instant): Promise<readonly LeverSoFar[]> {
  const today = Math.floor(now / DAY_S);
  const all = await leverDays(pool, { from: formatDate(today - DAYS), to: formatDate(today - 1), fleet });
  const known = all.flatMap(({ forecast, ...day }) => (forecast ? [{ ...day, forecast }] : []));
  const text = (amounts: readonly bigint[]) => formatCents(microsOf(amounts.reduce((sum, amount) => sum + amount, 0n) as Amount));
  return [...new Set(known.map(({ lever }) => lever))].map((lever) => {
    const own = known.filter((day) => day.lever === lever);
    return {
      lever,
      days: own.length,
      saved: text(own.map(({ saved }) => saved)),
      foretold: text(own.map(({ forecast }) => forecast.p50)),
      within: own.filter(({ saved, forecast }) => saved >= forecast.p5 && saved <= forecast.p95).length,
    };
  });
}
