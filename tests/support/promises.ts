import { DEMO_ACTOR } from "@/services/admin";
import { burnPage, timeStrip } from "@/services/cost";
import { linesOfDay } from "../../standin/world/meter";
import { DAY, type World } from "../../standin/world/types";
import { EVERYTHING } from "./burn-query";
import { HOUR, type Trusted } from "./trusted";

/** What a page told of a time to come. Instants in seconds, money in the currency. */
export type Promised = Readonly<{ what: string; from: number; to: number; told: number }>;

/** What is told now of the coming day, hour by hour in the strip, and of the month until its end in Burn. */
export async function promisesNow({ services, keeper }: Trusted): Promise<Promised[]> {
  const now = keeper.now();
  const strip = await timeStrip(services, DEMO_ACTOR);
  const first = Math.ceil(now / HOUR) * HOUR;
  const told = strip.micros.slice((first - strip.from) / HOUR).reduce((sum, micros) => sum + micros, 0) / 1e6;
  const { all, monthEnd } = await burnPage(services, DEMO_ACTOR, EVERYTHING);
  const at = new Date(now * 1000).toISOString();
  return [
    { what: `the day from ${at}`, from: first, to: strip.from + 48 * HOUR, told },
    { what: `the rest of the month from ${at}`, from: now, to: monthEnd, told: numberOf(all.byMonthEnd) - numberOf(all.month) },
  ];
}

/** What Burn tells now of what a filter lets through, until the end of the month. */
export async function monthNow({ services, keeper }: Trusted, filter: string): Promise<Promised> {
  const { shown, monthEnd } = await burnPage(services, DEMO_ACTOR, { ...EVERYTHING, filters: [filter] });
  const told = numberOf(shown.byMonthEnd) - numberOf(shown.month);
  return { what: `the rest of the month of ${filter}`, from: keeper.now(), to: monthEnd, told };
}

function numberOf(text: string | null): number {
  return Number((text ?? "").replaceAll(/[^\d.-]/g, ""));
}

/** What the meter of the stand-in says of its units over a time. */
export function metered(
  { seed, units }: Pick<World, "seed" | "units">,
  { from, to }: Readonly<{ from: number; to: number }>,
): number {
  const until = (t: number) => {
    let sum = 0;
    for (let day = Math.floor(from / DAY) * DAY; day < t; day += DAY)
      for (const unit of units)
        for (const { cost } of linesOfDay(seed, unit, { day, until: Math.min(t, day + 2 * DAY) })) sum += Number(cost);
    return sum;
  };
  return until(to) - until(from);
}
