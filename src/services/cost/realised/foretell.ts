import { DAY_S, formatDate } from "@/core/time";
import { fleetList, keepForecasts } from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../../admin";
import { readRealisedDay } from "./day";
import { forecastsOf, measureMembers, measuringsOf } from "./measure";

/**
 * Foretells the UTC day that has begun, by fleet and lever, and keeps it as it was made, whatever is learned of the day later. Safe to
 * repeat: what is foretold stays. A day that nobody foretold is foretold when it is measured, from what was known when it began.
 */
export async function foretellToday(services: Services, actor: Actor): Promise<{ fleets: number }> {
  authorise(actor, "work", ESTATE);
  const { pool, clock } = services;
  const day = Math.floor((await clock.read()).now / DAY_S);
  const fleets = (await fleetList(pool)).filter(({ firstInForceAt }) => firstInForceAt !== null && firstInForceAt < day * DAY_S);
  if (fleets.length === 0) return { fleets: 0 };
  const input = await readRealisedDay(services, day);
  let count = 0;
  for (const measuring of await measuringsOf(services, input, fleets)) {
    const forecasts = await forecastsOf(services, input, {
      fleet: measuring.fleet.name,
      own: measuring.own,
      measured: await measureMembers(services, input, measuring),
    });
    await keepForecasts(pool, { day: formatDate(day), fleet: measuring.fleet.name, forecasts });
    count++;
  }
  return { fleets: count };
}
