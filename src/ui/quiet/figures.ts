import type { TriedResource } from "@/browser/idle";
import type { Trip } from "@/core/idle";

/** What rules come to on the weeks they are tried on, made as long as a week and a month. */
export type Figures = Readonly<{
  trips: number;
  offHoursPerMonth: number;
  /** In the currency. */
  savedPerMonth: number;
  interruptions: number;
  interruptionsPerWeek: number;
  weeks: number;
}>;

const WEEKS_PER_MONTH = 730 / 168;
const HOUR_S = 3600;

/** `rates`: what an hour off saves, resource by resource, in the currency; null for one that is guarded or another fleet's, which counts for nothing. */
export function figuresOf(tried: readonly TriedResource[], rates: readonly (number | null)[], weeks: number): Figures {
  let [trips, offS, saved, interruptions] = [0, 0, 0, 0];
  tried.forEach((one, i) => {
    const rate = rates[i];
    if (rate === null) return;
    const own = one.offS.reduce((sum, seconds) => sum + seconds, 0);
    offS += own;
    saved += (own / HOUR_S) * (rate ?? 0);
    interruptions += one.interruptions.reduce((sum, n) => sum + n, 0);
    trips += one.trips.reduce((sum, list) => sum + list.length, 0);
  });
  const perWeek = weeks > 0 ? 1 / weeks : 0;
  return {
    trips,
    offHoursPerMonth: (offS / HOUR_S) * perWeek * WEEKS_PER_MONTH,
    savedPerMonth: saved * perWeek * WEEKS_PER_MONTH,
    interruptions,
    interruptionsPerWeek: interruptions * perWeek,
    weeks,
  };
}

/** A trip with whose and which rule's it is. */
export type TripOf = Trip & Readonly<{ resource: number; rule: number }>;

/** All trips, or those of one resource, in order of time. */
export function tripsOf(tried: readonly TriedResource[], resource: number | null): TripOf[] {
  return tried
    .flatMap((one, i) =>
      resource !== null && resource !== i
        ? []
        : one.trips.flatMap((list, rule) => list.map((trip): TripOf => ({ ...trip, resource: i, rule }))),
    )
    .sort((a, b) => a.trippedAt - b.trippedAt);
}
